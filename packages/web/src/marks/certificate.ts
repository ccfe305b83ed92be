import dayjs from 'dayjs';
import type { StudentRecord } from '@contactum/contract';
import { pdfOf } from '../drawing/pdf.js';

const day = (at: string | null): string => (at === null ? '' : dayjs(at).format('D MMMM YYYY'));

const CAUTION =
  'This records practice on trainer boards. It does not make real hardware safe and is no licence: ' +
  'isolate, lock off and prove dead; local codes and a licensed person decide.';

/** What is on the certificate: the exercises that were passed, with points, day and hours. */
function certificateRows({ exercises }: StudentRecord): string[][] {
  return exercises.flatMap(({ title, attempts, hours, code }) => {
    const best = attempts.find(({ counts }) => counts);
    if (!best?.result?.passed) return [];
    return [
      [title, `${best.result.recorded} of ${best.result.max}`, day(best.handedInAt), hours.toFixed(1)],
      ...(code === null ? [] : [[`Evidence pack ${best.id}, code ${code}`, '', '', '']]),
    ];
  });
}

/** A certificate of practical work, to be signed. */
export function certificatePdf(record: StudentRecord, by: string, now: Date): Promise<Blob> {
  const { student, className, term } = record;
  const rows = certificateRows(record);
  const hours = rows.reduce((sum, row) => sum + Number(row[3]), 0);
  const isCoded = rows.some((row) => row[1] === '');
  const definition = {
    pageSize: 'A4',
    pageMargins: [60, 64, 60, 64],
    defaultStyle: { font: 'Roboto', fontSize: 11, lineHeight: 1.25 },
    info: { title: `Certificate of practical work, ${student.name}` },
    content: [
      { text: 'Certificate of practical work', fontSize: 25, bold: true },
      {
        text: 'Motor control: wiring, testing and fault finding on trainer boards',
        margin: [0, 2, 0, 24],
        color: '#444444',
      },
      { text: student.name, fontSize: 19, bold: true },
      { text: `${className}${term ? `, ${term}` : ''}`, margin: [0, 2, 0, 18] },
      {
        text: 'has wired and proved the following boards. Each was worked through every order of its controls.',
        margin: [0, 0, 0, 10],
      },
      {
        layout: 'lightHorizontalLines',
        table: {
          headerRows: 1,
          widths: ['*', 70, 105, 40],
          body: [
            ['Exercise', 'Points', 'Passed on', 'Hours'].map((text) => ({ text, bold: true })),
            ...rows,
            ['', '', { text: 'Hours in all', bold: true }, { text: hours.toFixed(1), bold: true }],
          ],
        },
      },
      {
        margin: [0, 46, 0, 0],
        columns: [signature(210, by, 'Instructor'), signature(170, dayjs(now).format('D MMMM YYYY'), 'Date')],
      },
      {
        margin: [0, 40, 0, 0],
        fontSize: 9,
        color: '#444444',
        text:
          (isCoded ? `A line is checked by its number and code at ${window.location.origin}/check. ` : '') +
          CAUTION,
      },
    ],
  };
  return pdfOf(definition);
}

/** A line to sign on, with what stands below it. */
const signature = (width: number, text: string, label: string) => ({
  stack: [
    { canvas: [{ type: 'line', x1: 0, y1: 0, x2: width, y2: 0, lineWidth: 0.7 }] },
    { text, margin: [0, 4, 0, 0] },
    { text: label, color: '#444444' },
  ],
});
