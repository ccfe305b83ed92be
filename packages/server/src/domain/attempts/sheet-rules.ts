import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { signedEntries, wireProblems, type Exercise, type SheetEntries } from '@contactum/core';
import type { Person, SheetRequest } from '@contactum/contract';
import { AssessmentModel, SittingModel, type AssignmentModel } from '../../database/models.js';
import { Refusal, invalidAt } from '../../runtime/refusal.js';

/** What a bench sheet may say, by whom, and when. */

/** Of a setting whose times an examiner keeps. */
export const NO_TIMES = { opensAt: null, dueAt: null, closesAt: null, extraMinutes: 0, paused: false };

/** Of an assessment, only tasks on a physical board have a sheet, and only until it is signed off. */
export async function requireTaskOnBench(
  database: Knex,
  { assessmentId, task }: AssignmentModel,
): Promise<void> {
  if (assessmentId === null) return;
  const assessment = await AssessmentModel.query(database).findById(assessmentId);
  if (!assessment?.plan.tasks.some((one) => one.id === task && one.physical))
    throw new Refusal('conflict', 'This task of the assessment is done on the screen.');
  if (assessment.signedOffAt) throw new Refusal('conflict', 'This assessment is signed off.');
}

/** Who sat an assessment, and not in vain. */
export async function requireSat(trx: Knex, assessmentId: string, studentId: string): Promise<void> {
  const sitting = await SittingModel.query(trx).findById([assessmentId, studentId]);
  if (!sitting?.startedAt) throw new Refusal('conflict', 'This student has not started the assessment.');
  if (sitting.voidedAt) throw new Refusal('conflict', `This sitting is void: ${sitting.voidReason}.`);
}

/** A student signs for isolating, an instructor for the permission: each for oneself. */
export const entriesBy = ({ role, name }: Person, entries: SheetEntries): SheetEntries =>
  role === 'student'
    ? signedEntries(entries, {
        isolatedBy: entries.isolatedBy === undefined ? undefined : name,
        permittedBy: undefined,
      })
    : signedEntries(entries, {
        isolatedBy: entries.isolatedBy,
        permittedBy: entries.permittedBy === undefined ? undefined : name,
      });

/**
 * When a board was begun and ended by the server's clock: what a device has said, set right by how far its
 * clock is behind, never after now. A student begins no sooner than the exercise is set, and hands in when
 * the server has it: what is late is not made early by a clock.
 */
export function timesOf(
  { clock, entries }: SheetRequest,
  { setAt, opensAt }: AssignmentModel,
  isTrusted: boolean,
  now = Date.now(),
): { readonly begun: Date; readonly ended: Date; readonly behind: number | null } {
  const behind = clock === undefined ? null : now - Date.parse(clock);
  const earliest = isTrusted ? 0 : Math.max(setAt.getTime(), opensAt?.getTime() ?? 0);
  const right = (text: string): number => Math.min(now, Math.max(earliest, Date.parse(text) + (behind ?? 0)));
  const said = entries.ended ?? entries.begun;
  const ended = isTrusted && said !== undefined ? right(said) : now;
  const begun = Math.min(ended, right(entries.begun ?? entries.ended ?? new Date(ended).toISOString()));
  return {
    begun: new Date(begun),
    ended: new Date(ended),
    behind: behind === null ? null : Math.round(behind / 100) / 10,
  };
}

/** Entries name nothing that is not on the sheet's board. */
export function requireFitting(exercise: Exercise, entries: SheetEntries): void {
  const functions = new Set(exercise.behaviours.map(({ id }) => id));
  const strange = Object.keys(entries.functions).find((id) => !functions.has(id));
  if (strange !== undefined)
    throw invalidAt(`entries.functions["${strange}"]`, 'is no function of this exercise');
  const tags = new Set(exercise.bench.devices.map(({ tag }) => tag));
  const unknown = Object.keys(entries.settings).find((key) => !tags.has(key.slice(0, key.lastIndexOf('.'))));
  if (unknown !== undefined) throw invalidAt(`entries.settings["${unknown}"]`, 'is no device of this board');
  const [problem] = wireProblems(entries.asWired ?? [], exercise.bench, 'entries.asWired');
  if (problem) throw invalidAt(problem.path, problem.message);
}

export const digestOf = (settingId: string, { studentId, entries, photo }: SheetRequest): string =>
  createHash('sha256')
    .update(JSON.stringify([settingId, studentId, entries, photo]))
    .digest('base64url');
