import { seededNumbers, shuffled } from '../random/index.js';
import { mean, variance } from './statistics.js';

/**
 * How somebody has worked where there was a choice: by what was to be chosen, what was. Two that chose the
 * same everywhere, and as nobody else did, have hardly worked apart.
 */
export interface Work {
  readonly id: string;
  readonly choices: Readonly<Record<string, string>>;
}

/** Two whose work is more alike than chance lets one expect in their class. */
export interface LikePair {
  readonly one: string;
  readonly other: string;
  /** Bits: how unlikely what both chose is, from how often the class chose it. */
  readonly bits: number;
  /** How often a pair as like, or more, came about anywhere in the class by chance alone. */
  readonly chance: number;
  /** What both chose and few others did, the rarest first. */
  readonly shared: readonly { readonly where: string; readonly what: string; readonly others: number }[];
}

export interface Likenesses {
  readonly people: number;
  /** Classes made by chance from the choices of this one. */
  readonly trials: number;
  /** Bits of the most alike pair of these, on the mean. */
  readonly usual: number;
  readonly pairs: readonly LikePair[];
}

const TRIALS = 400;
/** Chance above which a pair is not named: one class in a hundred names one without a reason. */
const LEAST_CHANCE = 0.01;
/**
 * Deviations by which a pair must lie above the most alike pair that chance makes. An order is one chain of
 * habits (some work strictly along the drawing), so it counts only far above chance, and only with leads that
 * are nearly as alike as those of the most alike pair. Measured on simulated classes.
 */
const ABOVE_IN_LEADS = 4.5;
const ABOVE_IN_ORDER = 8;
const LEADS_WITH_ORDER = 0.6;

/** Before the name of what was taken up next. */
const AFTER = 'after ';

/** A lead as the two terminals that it joins, in the words of the exercise that all began from. */
interface PlainLead {
  readonly from: string;
  readonly to: string;
}

/**
 * What somebody chose: by potential of the exercise, which leads make it, and which potential was taken up
 * after it; a lead that joins two potentials stands by itself. `leads` as they are, `laid` in the order in
 * which they were laid; `netOf` names the potential of a terminal.
 */
export function workOf(
  id: string,
  leads: readonly PlainLead[],
  laid: readonly PlainLead[],
  netOf: (terminal: string) => string,
): Work {
  const choices: Record<string, string> = {};
  const nets = new Map<string, string[]>();
  for (const { from, to } of leads) {
    const key = [from, to].sort().join('–');
    const [a, b] = [netOf(from), netOf(to)];
    if (a === b) nets.set(a, [...(nets.get(a) ?? []), key]);
    else choices[`between potentials ${key}`] = key;
  }
  for (const [net, keys] of nets) choices[`leads of ${net}`] = keys.sort().join(' ');
  const begun: string[] = [];
  for (const { from, to } of laid) {
    const net = netOf(from);
    if (net === netOf(to) && !begun.includes(net)) begun.push(net);
  }
  begun.forEach((net, k) => {
    choices[`${AFTER}${net}`] = begun[k + 1] ?? 'nothing';
  });
  return { id, choices };
}

/**
 * Pairs of a class whose work is more alike than chance lets one expect there: in which leads they chose, or
 * in these and the order in which they took up the potentials. What both chose counts by how rare it is among
 * the others, less what the two have in common with everybody. Chance is worked out from the class itself: what
 * each person chose in one place is dealt out anew among the same people, place by place, some hundred
 * times, and the most alike pair of each such class is what chance can do. People also have habits, so a pair
 * must lie well above that. It proves nothing about anybody: two who learnt together may work alike.
 */
export function likenesses(works: readonly Work[], seed = 1): Likenesses {
  const places = placesOf(works);
  const random = seededNumbers(seed);
  const isOrder = ({ where }: Place) => where.startsWith(AFTER);
  const leads = lookAt(
    places.filter((one) => !isOrder(one)),
    works.length,
    random,
  );
  const order = lookAt(places.filter(isOrder), works.length, random);
  const pairs: LikePair[] = [];
  forPairs(works.length, (i, j, at) => {
    const [inLeads, inOrder] = [standing(leads, at), standing(order, at)];
    const isNamed =
      inLeads.above > ABOVE_IN_LEADS ||
      (inOrder.above > ABOVE_IN_ORDER && leads.scores[at]! > LEADS_WITH_ORDER * leads.mean);
    const chance = Math.min(1, 2 * Math.min(inLeads.chance, inOrder.chance));
    if (!isNamed || chance > LEAST_CHANCE) return;
    const bits = leads.scores[at]! + Math.max(0, order.scores[at]!);
    pairs.push({ one: works[i]!.id, other: works[j]!.id, bits, chance, shared: sharedBy(places, i, j) });
  });
  return {
    people: works.length,
    trials: leads.values.length,
    usual: leads.mean,
    pairs: pairs.sort((one, other) => other.bits - one.bits),
  };
}

/**
 * By how many deviations a pair lies above the most alike that chance makes, and how often chance makes one
 * as like.
 */
function standing({ scores, values, mean: middle, deviation }: Look, at: number) {
  const bits = scores[at]!;
  const alike = values.filter((one) => one >= bits).length;
  return { above: (bits - middle) / Math.max(deviation, 0.1), chance: (alike + 1) / (values.length + 1) };
}

function forPairs(people: number, look: (i: number, j: number, at: number) => void): void {
  let at = 0;
  for (let i = 0; i < people; i += 1)
    for (let j = i + 1; j < people; j += 1) {
      look(i, j, at);
      at += 1;
    }
}

/** How alike all pairs are in some places, and the most alike pair of each class by chance. */
function lookAt(places: readonly Place[], people: number, random: () => number): Look {
  const values = Array.from({ length: people > 3 ? TRIALS : 0 }, () =>
    Math.max(
      ...pairScores(
        places.map((place) => dealt(place, random)),
        people,
      ),
    ),
  );
  const several = values.length > 1;
  return {
    scores: pairScores(places, people),
    values,
    mean: several ? mean(values) : 0,
    deviation: several ? Math.sqrt(variance(values)) : 0,
  };
}

interface Look {
  /** Bits by pair. */
  readonly scores: readonly number[];
  /** Of the most alike pair of each class that chance made, with their mean and deviation. */
  readonly values: readonly number[];
  readonly mean: number;
  readonly deviation: number;
}

/** Takes from each pair's bits what either has in common with everybody: a two-way fit of the mean. */
function beyondEachOnes(scores: Float64Array, people: number): number[] {
  const own = new Float64Array(people);
  let all = 0;
  forPairs(people, (i, j, at) => {
    own[i]! += scores[at]!;
    own[j]! += scores[at]!;
    all += scores[at]!;
  });
  const middle = all / scores.length;
  const effect = own.map((sum) => ((people - 1) / (people - 2)) * (sum / (people - 1) - middle));
  const left: number[] = [];
  forPairs(people, (i, j, at) => left.push(scores[at]! - middle - effect[i]! - effect[j]!));
  return left;
}

/** Something to be chosen: what each person chose, as a number of the choice; −1 where nothing. */
interface Place {
  readonly where: string;
  readonly chosen: Int32Array;
  readonly names: readonly string[];
  /** By choice: how many made it. */
  readonly counts: readonly number[];
}

function placesOf(works: readonly Work[]): Place[] {
  const wheres = [...new Set(works.flatMap(({ choices }) => Object.keys(choices)))].sort();
  return wheres.map((where): Place => {
    const names: string[] = [];
    const counts: number[] = [];
    const chosen = Int32Array.from(works, ({ choices }) => {
      const what = choices[where];
      if (what === undefined) return -1;
      const known = names.indexOf(what);
      const k = known >= 0 ? known : names.push(what) - 1;
      counts[k] = (counts[k] ?? 0) + 1;
      return k;
    });
    return { where, chosen, names, counts };
  });
}

/** The same choices among the same people, dealt out by chance. */
function dealt(place: Place, random: () => number): Place {
  return { ...place, chosen: Int32Array.from(shuffled([...place.chosen], random)) };
}

/** Bits of a choice that two share, by how many of the others made it too. */
const bitsOf = (count: number, people: number): number => -Math.log2((count - 2 + 0.5) / (people - 2 + 1));

function pairScores(places: readonly Place[], people: number): number[] {
  const scores = new Float64Array((people * (people - 1)) / 2);
  const start = (i: number): number => i * people - (i * (i + 1)) / 2 - i - 1;
  for (const { chosen, counts } of places) {
    const groups: number[][] = counts.map(() => []);
    for (let i = 0; i < people; i += 1) if (chosen[i]! >= 0) groups[chosen[i]!]!.push(i);
    for (const members of groups) {
      if (members.length < 2) continue;
      const bits = bitsOf(members.length, people);
      for (let a = 0; a < members.length; a += 1) {
        const from = start(members[a]!);
        for (let b = a + 1; b < members.length; b += 1) scores[from + members[b]!]! += bits;
      }
    }
  }
  return people > 2 ? beyondEachOnes(scores, people) : [...scores];
}

/** What two chose alike and few others did. */
function sharedBy(places: readonly Place[], i: number, j: number): LikePair['shared'] {
  return places
    .flatMap(({ where, chosen, names, counts }) => {
      const k = chosen[i]!;
      return k >= 0 && k === chosen[j] ? [{ where, what: names[k]!, others: counts[k]! - 2 }] : [];
    })
    .sort((a, b) => a.others - b.others || b.where.localeCompare(a.where))
    .slice(0, 12);
}
