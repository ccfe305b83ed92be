import type { Report } from '../marking/index.js';
import { cell, document, heading, ruled, small, type PdfContent, type PdfDocument } from './paper-pages.js';
import type { Paper } from './pdf.js';

/** A slip as it is printed: what stands on it beside the report. */
export interface PrintedSlip {
  readonly student: string;
  readonly className: string;
  readonly title: string;
  readonly attempt: number;
  /** When it was handed in, in words. */
  readonly handedIn: string;
  readonly report: Report;
  readonly changes: readonly {
    readonly criterion: string;
    readonly from: number;
    readonly to: number;
    readonly by: string;
    readonly reason: string;
  }[];
  readonly remarks: readonly { readonly by: string; readonly text: string }[];
  /** Number of the evidence pack that it lies in. */
  readonly number: string;
}

/** What may run over several lines. */
const prose = (text: string): PdfContent => ({ text, fontSize: 8.5 });

/** A marking slip on paper: every criterion with its points, and why lost ones were lost. */
export function slipPdf(slip: PrintedSlip, paper: Paper): PdfDocument {
  const { student, className, title, attempt, handedIn, report, number } = slip;
  return document(`${title}: ${student}`, paper, [
    { text: title, bold: true, fontSize: 16 },
    small(`${student} · ${className} · attempt ${attempt} · handed in ${handedIn}`),
    { text: verdictOf(report), bold: true, fontSize: 12, margin: [0, 6, 0, 2] },
    ...criteriaOf(report),
    ...changesOf(slip),
    ...remarksOf(slip),
    small(
      `Exercise version ${report.exerciseVersion}, marked by ${report.marker}. Evidence pack ${number}: ` +
        'what this slip says is proved by the pack, not by this paper. ' +
        'A pass on a trainer does not make real hardware safe.',
    ),
  ]);
}

const verdictOf = ({ recorded, max, passed, reason }: Report): string =>
  `${recorded} of ${max}, ${passed ? 'passed' : 'not passed'}${reason ? `: ${reason}` : ''}`;

const criteriaOf = ({ criteria }: Report): PdfContent[] => [
  heading('Criteria'),
  ruled(
    ['Part', 'Criterion', 'Points'],
    criteria.map(({ part, title, points, max, evidence }) => [
      cell(part),
      prose(evidence ? `${title}: ${evidence.found}` : title),
      cell(`${points} of ${max}`),
    ]),
    ['auto', '*', 'auto'],
  ),
];

const changesOf = ({ changes }: PrintedSlip): PdfContent[] =>
  changes.length === 0
    ? []
    : [
        heading('Changes'),
        ruled(
          ['Criterion', 'From', 'To', 'By', 'Reason'],
          changes.map(({ criterion, from, to, by, reason }) => [
            cell(criterion),
            cell(String(from)),
            cell(String(to)),
            cell(by),
            prose(reason),
          ]),
          ['auto', 'auto', 'auto', 'auto', '*'],
        ),
      ];

const remarksOf = ({ remarks }: PrintedSlip): PdfContent[] =>
  remarks.length === 0 ? [] : [heading('Remarks'), ...remarks.map(({ by, text }) => small(`${by}: ${text}`))];
