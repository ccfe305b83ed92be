import type { Bench } from '../bench/index.js';
import { isPushbutton, type Device } from '../catalogue/index.js';
import { isAsked, isSearch, type Exercise } from '../marking/index.js';
import { seededNumbers, shuffled } from '../random/index.js';
import { rewritten } from '../remade.js';
import { otherSets } from './hidden.js';
import {
  otherAddresses,
  otherTags,
  otherTerminals,
  renamedBoard,
  rewriter,
  unsaidIn,
  type Naming,
  type Random,
} from './names.js';
import { SAME, otherRatings, ratedDevice, ratedWords, type Ratings } from './plates.js';

/** Seeds go from 0 to this. */
export const LONGEST_SEED = 2 ** 31 - 1;

/** An exercise made from another one, and how what was wired on the board of that one reads on its own. */
export interface ExerciseVariant {
  readonly exercise: Exercise;
  /** A board of the exercise it was made from, with the designations, terminals and ratings of the variant. */
  readonly translated: (bench: Bench) => Bench;
}

/** Letters that an id may have (`exercise.id`). */
const ID = 60;

/**
 * A variant of an exercise: a pure function of the exercise and a seed. Its circuit is that of the exercise,
 * so it has the same leads, states and verdicts; designations, contacts of one kind, inputs and outputs,
 * places, plate, dial and voltage are others, and so are hidden faults, of the same kind and found by as many
 * readings of an expert. Ids of behaviours, sets and faults stay, so that marks can be compared by criterion.
 */
export function exerciseVariant(exercise: Exercise, seed: number): ExerciseVariant {
  const random = seededNumbers(Math.imul(seed, 0x9e3779b1) ^ 0x5eed);
  const { devices } = exercise.bench;
  const naming = namingOf(exercise, random);
  // What a meter tells apart, and from which device to the next one measures, is how hard a search is; what
  // was found on a board that is asked about was found on this one.
  const isMeasured = isSearch(exercise) || isAsked(exercise);
  const ratings = isMeasured ? SAME : otherRatings(exercise.bench, random);
  const places = isSearch(exercise) ? devices.map((_, k) => k) : placesOf(devices, random);
  const sets = exercise.sets && otherSets(exercise, random);
  const rewrite = rewriter(naming);
  const { id, bench, ...rest } = { ...exercise, ...(sets ? { sets } : {}) };
  return {
    exercise: {
      ...ratedWords(rewritten(rest, rewrite), ratings),
      id: `${id.slice(0, ID - 12)}-v${seed}`,
      bench: inPlaces(rated(renamedBoard(bench, naming), ratings), places),
    },
    translated: (board) => inPlaces(rated(renamedBoard(board, naming), ratings), places),
  };
}

function namingOf(exercise: Exercise, random: Random): Naming {
  const { devices } = exercise.bench;
  const tags = devices.map(({ tag }) => tag);
  return {
    tags: otherTags(devices, exercise.program ?? null, random),
    terminals: otherTerminals(devices, random, unsaidIn(wordsOf(exercise), tags)),
    addresses: otherAddresses(devices, random),
  };
}

/** What people read of an exercise. */
function wordsOf({ title, brief, bench, behaviours, faults, sets, survive }: Exercise): string[] {
  const titles = [...behaviours, ...faults, ...(sets ?? []), ...(survive ?? [])].map((one) => one.title);
  return [title, brief, bench.title, ...titles, ...(sets ?? []).map(({ complaint }) => complaint)];
}

const rated = (bench: Bench, ratings: Ratings): Bench => ({
  ...bench,
  title: ratedWords(bench.title, ratings),
  devices: bench.devices.map((device) => ratedDevice(device, ratings)),
});

/** Devices that change places among their kind: without an armature, so that none arrives in another order. */
const isMovable = (device: Device): boolean =>
  isPushbutton(device) || device.type === 'lamp' || device.type === 'fuse';

/** For each place of a board, the device that comes there. */
function placesOf(devices: readonly Device[], random: Random): readonly number[] {
  const places = devices.map((_, k) => k);
  for (const type of new Set(devices.filter(isMovable).map((one) => one.type))) {
    const own = places.filter((k) => devices[k]!.type === type);
    const next = shuffled(own, random);
    own.forEach((place, k) => (places[place] = next[k]!));
  }
  return places;
}

/** A board with its devices in other places; those behind the places that are known stay behind. */
function inPlaces(bench: Bench, places: readonly number[]): Bench {
  const moved = places.map((from, to) => ({ ...bench.devices[from]!, at: bench.devices[to]!.at }));
  return { ...bench, devices: [...moved, ...bench.devices.slice(places.length)] };
}
