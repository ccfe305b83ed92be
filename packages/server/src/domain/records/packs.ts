import type { Knex } from 'knex';
import { strToU8, zipSync } from 'fflate';
import {
  MANIFEST,
  SIGNATURE,
  drawingOf,
  fileOf,
  framedDrawing,
  manifestBytes,
  toSvg,
  usualForm,
  type Bench,
  type Manifest,
  type PrintedSlip,
  type Report,
} from '@contactum/core';
import type { Person, Slip } from '@contactum/contract';
import { SheetModel } from '../../database/models.js';
import { Refusal } from '../../runtime/refusal.js';
import { assessmentView } from '../assessments/examine.js';
import { logOf } from '../attempts/attempts.js';
import type { Journal } from '../attempts/journal.js';
import type { Slips } from '../attempts/slips.js';
import { note } from '../people/audit.js';
import { signerOf, type Signer } from './keys.js';
import { markedWork, type MarkedWork } from './work.js';

/** Prints a slip, in a thread. */
export type PrintIn = (slip: PrintedSlip) => Promise<Uint8Array>;

type MarkedSlip = Slip & { readonly report: Report };

const json = (value: unknown): Uint8Array => strToU8(`${JSON.stringify(value, null, 2)}\n`);

/** Evidence packs: all that a mark rests on, with a signed list of it. */
export class Packs {
  constructor(
    private readonly database: Knex,
    private readonly journal: Journal,
    private readonly slips: Slips,
    private readonly printIn: PrintIn,
  ) {}

  /** The pack of a marked attempt, as a zip; asked for by an instructor of its class. */
  async of(attemptId: string, instructor: Person): Promise<Buffer> {
    const { report, ...whole } = await this.slips.of(attemptId, instructor);
    const marked = await markedWork(this.database, this.journal, attemptId, ['marked']);
    if (!report || !marked) throw new Refusal('conflict', 'This attempt is not marked yet.');
    const slip = { ...whole, report };
    const signer = await signerOf(this.database);
    const files = await this.filesOf(slip, marked);
    const manifest = manifestBytes(manifestOf(slip, files, signer));
    await note(this.database, {
      actor: instructor,
      kind: 'made an evidence pack',
      about: `${slip.student.name}: ${slip.exercise.title}`,
      classId: slip.classId,
    });
    const all = { ...files, [MANIFEST]: manifest, [SIGNATURE]: signer.sign(manifest) };
    return Buffer.from(zipSync(all, { level: 6 }));
  }

  /**
   * The packs of everybody who sat an assessment, one zip a person and task in one zip, with what each came
   * to; asked for by an instructor of its class once it is signed off.
   */
  async ofAssessment(
    id: string,
    instructor: Person,
  ): Promise<{ readonly name: string; readonly zip: Buffer }> {
    const assessment = await assessmentView(this.database, id, instructor);
    if (!assessment.signedOff) throw new Refusal('conflict', 'It must be signed off first.');
    const files: Record<string, Uint8Array> = {};
    for (const { student, voided, startedAt, attempts, outcome, judged, review } of assessment.sittings) {
      if (voided || startedAt === null) continue;
      const folder = `${student.name.replace(/[^\p{L}\p{N} -]+/gu, '')} (${student.login})`;
      files[`${folder}/outcome.json`] = json({ student, outcome, judged, review });
      for (const { task, attemptId, state } of attempts)
        if (state === 'marked') files[`${folder}/${task}.zip`] = await this.of(attemptId, instructor);
    }
    const { title, className, signedOff, releasedAt, events, appeals } = assessment;
    files['assessment.json'] = json({ title, className, signedOff, releasedAt, events, appeals });
    // What is packed already does not get smaller.
    return { name: title.replace(/[^\p{L}\p{N} -]+/gu, ''), zip: Buffer.from(zipSync(files, { level: 0 })) };
  }

  private async filesOf(
    slip: MarkedSlip,
    { exercise, work }: MarkedWork,
  ): Promise<Record<string, Uint8Array>> {
    const { id } = slip.attempt;
    const sheet = await SheetModel.query(this.database).findOne({ attemptId: id });
    const log = await logOf(this.database, id);
    return {
      'report.json': json(slip.report),
      'slip.pdf': await this.printIn(printed(slip)),
      'exercise.json': json(exercise),
      'work.json': json(work),
      'log.json': json(log.map(({ seq, at, body }) => ({ seq, at, entry: body }))),
      'changes.json': json({ changes: slip.changes, remarks: slip.remarks }),
      'drawing.svg': strToU8(drawn(slip.bench, slip.exercise.title)),
      ...(sheet?.photo ? { [`photo.${sheet.photoType === 'image/png' ? 'png' : 'jpg'}`]: sheet.photo } : {}),
    };
  }
}

const drawn = (bench: Bench, title: string): string =>
  toSvg(
    framedDrawing(drawingOf(bench, usualForm(bench)), 'A4', {
      title,
      number: '',
      author: '',
      date: '',
      owner: '',
    }),
  );

const printed = (slip: MarkedSlip): PrintedSlip => ({
  student: slip.student.name,
  className: slip.className,
  title: slip.exercise.title,
  attempt: slip.attempt.number,
  handedIn: slip.attempt.handedInAt ?? '',
  report: slip.report,
  changes: slip.changes.map(({ criterion, from, to, by, reason }) => ({ criterion, from, to, by, reason })),
  remarks: slip.remarks.map(({ by, text }) => ({ by, text })),
  number: slip.attempt.id,
});

function manifestOf(slip: MarkedSlip, files: Readonly<Record<string, Uint8Array>>, signer: Signer): Manifest {
  const { report, student, className, exercise, attempt } = slip;
  return {
    contactum: 'pack/1',
    number: attempt.id,
    made: new Date().toISOString(),
    student: student.name,
    className,
    exercise: { id: exercise.id, title: exercise.title, version: report.exerciseVersion },
    handedIn: attempt.handedInAt ?? '',
    score: report.score,
    max: report.max,
    passed: report.passed,
    files: Object.entries(files).map(([name, data]) => fileOf(name, data)),
    key: signer.publicKey,
  };
}
