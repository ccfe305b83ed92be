import type { Bench } from '../bench/index.js';
import { describeStimulus } from '../circuit/index.js';
import { prove } from '../proof/index.js';
import { leadsFromReadings, readingsFor, type BoardReading } from './leads.js';
import { wiringFromJoints, type Joints } from './joints.js';

/** Whether a physical board may be energised as it was read; why not, in words. */
export type PermitCheck =
  { readonly ok: true; readonly bench: Bench } | { readonly ok: false; readonly why: string };

const refuse = (why: string): PermitCheck => ({ ok: false, why });

/**
 * Looks whether a physical board, read with each of its devices worked, has a short circuit in any order of
 * working. What readings leave open (a contact that no hand can open on a dead board) is proved both ways: with
 * a lead across it and without. Every reading of `readingsFor` is wanted, since a lead across a closed contact
 * shows in no other way. This is a teaching aid and no safety function.
 * @param bench the board; its first `fixed` leads are part of it, and others are not looked at.
 */
export function permitCheck(bench: Bench, readings: readonly BoardReading[], fixed = 0): PermitCheck {
  const own: Bench = { ...bench, wires: bench.wires.slice(0, fixed) };
  const key = (steps: BoardReading['steps']) => JSON.stringify(steps);
  const read = new Set(readings.map(({ steps }) => key(steps)));
  const missing = readingsFor(own).find((steps) => !read.has(key(steps)));
  if (missing)
    return refuse(
      `the board was not read ${missing.length === 0 ? 'at rest' : `with: ${missing.map(describeStimulus).join(', ')}`}`,
    );
  const { joined, doubtful, unlike } = leadsFromReadings(own, readings);
  const [contact] = unlike;
  if (contact) return refuse(`${contact.contact} did not close as it should`);
  const open = doubtful.find(({ work }) => work.length > 0);
  if (open)
    return refuse(`${open.terminals.join(', ')}: joined by leads or through ${open.through.join(', ')}`);
  const unsure = new Set(doubtful.map(({ terminals }) => terminals.join(' ')));
  const without = joined.filter((net) => !unsure.has(net.join(' ')));
  const found = (unsure.size > 0 ? [joined, without] : [joined]).map((nets) =>
    withoutShort(own, nets, fixed),
  );
  return found.find(({ ok }) => !ok) ?? found[0]!;
}

function withoutShort(own: Bench, joined: Joints['joined'], fixed: number): PermitCheck {
  const wired = wiringFromJoints(own, joined, fixed);
  if (!wired.ok) return refuse(wired.problems.map(({ path, message }) => `${path}: ${message}`).join('; '));
  const proof = prove(wired.bench, { properties: ['no-short'] });
  const short = proof.properties.find(({ id }) => id === 'no-short');
  if (short?.holds === false) return refuse('the proof finds a short circuit');
  if (!proof.complete) return refuse('the proof could not try everything');
  return { ok: true, bench: wired.bench };
}
