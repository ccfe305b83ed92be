import type { Report } from '../marking/index.js';
import { document, heading, ruled, small, cell, type PdfDocument } from './paper-pages.js';
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

/** A marking slip on paper: every criterion with its points, and why lost ones were lost. */
export function slipPdf(slip: PrintedSlip, paper: Paper): PdfDocument {
  const { student, className, title, attempt, handedIn, report, changes, remarks, number } = slip;
  const rows = report.criteria.map(({ part, title: words, points, max, evidence }) => [
    cell(part),
    { text: evidence ? `${words}: ${evidence.found}` : words, fontSize: 8.5 },
    cell(`${points} of ${max}`),
  ]);
  return document(`${title}: ${student}`, paper, [
    { text: title, bold: true, fontSize: 16 },
    small(`${student} · ${className} · attempt ${attempt} · handed in ${handedIn}`),
    {
      text: `${report.recorded} of ${report.max}, ${report.passed ? 'passed' : 'not passed'}${report.reason ? `: ${report.reason}` : ''}`,
      bold: true,
      fontSize: 12,
      margin: [0, 6, 0, 2],
    },
    heading('Criteria'),
    ruled(['Part', 'Criterion', 'Points'], rows, ['auto', '*', 'auto']),
    ...(changes.length > 0
      ? [
          heading('Changes'),
          ruled(
            ['Criterion', 'From', 'To', 'By', 'Reason'],
            changes.map(({ criterion, from, to, by, reason }) => [
              cell(criterion),
              cell(String(from)),
              cell(String(to)),
              cell(by),
              { text: reason, fontSize: 8.5 },
            ]),
            ['auto', 'auto', 'auto', 'auto', '*'],
          ),
        ]
      : []),
    ...(remarks.length > 0
      ? [heading('Remarks'), ...remarks.map(({ by, text }) => small(`${by}: ${text}`))]
      : []),
    small(
      `Exercise version ${report.exerciseVersion}, marked by ${report.marker}. Evidence pack ${number}: what this slip says is proved by the pack, not by this paper. A pass on a trainer does not make real hardware safe.`,
    ),
  ]);
}
