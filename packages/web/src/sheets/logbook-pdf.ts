import dayjs from 'dayjs';
import type { Logbook } from '@contactum/contract';
import { pdfOf } from '../drawing/pdf.js';

const COLUMNS = [
  'Date',
  'Exercise',
  'Where',
  'Class',
  'Hours',
  'Points',
  'Passed',
  'Instructor',
  'Signature',
];

/** The logbook to be signed, line by line. */
export function logbookPdf({ student, lines }: Logbook): Promise<Blob> {
  const hours = lines.reduce((sum, line) => sum + line.hours, 0);
  return pdfOf({
    pageSize: 'A4',
    pageOrientation: 'landscape',
    pageMargins: [40, 40, 40, 50],
    info: { title: `Logbook of ${student.name}` },
    defaultStyle: { font: 'Roboto', fontSize: 9 },
    footer: (page: number, pages: number) => ({
      text: `Logbook of ${student.name}, page ${page} of ${pages}`,
      margin: [40, 10],
      fontSize: 8,
    }),
    content: [
      { text: 'Logbook of practical work', fontSize: 19, bold: true },
      {
        text: `${student.name}: ${lines.length} boards, ${hours.toFixed(1)} hours`,
        margin: [0, 2, 0, 10],
      },
      {
        table: {
          headerRows: 1,
          dontBreakRows: true,
          widths: ['auto', '*', 'auto', '*', 'auto', 'auto', 'auto', 'auto', 90],
          body: [
            COLUMNS.map((text) => ({ text, bold: true, fillColor: '#eeeeee' })),
            ...lines.map((line) => [
              dayjs(line.date).format('D MMM YYYY'),
              line.exercise,
              line.place === 'bench' ? 'bench' : 'screen',
              [line.className, line.term].filter(Boolean).join(', '),
              line.hours.toFixed(1),
              line.recorded === null ? '' : `${line.recorded} of ${line.max ?? ''}`,
              line.passed === null ? '' : line.passed ? 'yes' : 'no',
              line.instructor,
              '',
            ]),
          ],
        },
      },
      {
        margin: [0, 14, 0, 0],
        fontSize: 8,
        text: 'This records practice on trainer boards. It does not make real hardware safe and is no licence: local codes and a licensed person decide.',
      },
    ],
  });
}
