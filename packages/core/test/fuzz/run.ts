/**
 * Runs the comparison with the plain checker for some minutes and prints what differs: `run.ts MINUTES
 * [FIRST SEED]`.
 */
import {
  AskedBoard,
  bySurprise,
  dryRun,
  judgeAnswer,
  repair,
  repairTask,
  type Exercise,
} from '@contactum/core';
import { exercises, withoutControllers, seeded } from '../help.js';
import { askedOn, plainAnswer } from './asked.js';
import { checkSeed, type Finding } from './check.js';
import { droppedByFindings, droppedBySearch } from './searches.js';
import { deadTestFindings } from './dead-tests.js';
import { explainedOn } from './explained.js';
import { leftOut } from './left-out.js';
import { marksOf } from './marks.js';
import { alikeOf, partsCompared, partsOf } from './parts.js';
import { anyhowAsSolved } from './solved.js';
import { shownAsTold } from './shown.js';
import { untilLostOf } from './until-lost.js';
import { mistakesUnlike, unlikeOriginal } from './variants.js';
import { twoWrong } from './wrong-wirings.js';

const minutes = Number(process.argv[2] ?? 5);
const first = Number(process.argv[3] ?? 100_000);
const end = performance.now() + minutes * 60_000;
const count: Partial<Record<Finding['what'], number>> = {};
const shipped = withoutControllers();
let [boards, traces, skipped, repaired, missed, searched, dropped, tables, unfound] = [
  0, 0, 0, 0, 0, 0, 0, 0, 0,
];
let [right, mistaken, alike, unfair] = [0, 0, 0, 0];
let [tried, surprising] = [0, 0];
let [less, more] = [0, 0];
let [sentences, untrue] = [0, 0];
let [grouped, parted, unlike] = [0, 0, 0];
let [asked, refused] = [0, 0];
let [varied, unlikes] = [0, 0];
let [answers, unsolved] = [0, 0];
let [ended, unended] = [0, 0];
let [worked, untold] = [0, 0];
const wired = shipped.filter(({ task, reference }) => task !== 'find' && reference.length > 0);
for (let seed = first; performance.now() < end; seed += 1) {
  const result = checkSeed(seed);
  boards += 1;
  traces += result.traces;
  if (result.skipped) skipped += 1;
  for (const { parts, skipped, findings } of [partsOf(seed), alikeOf(seed), partsCompared(seed)]) {
    if (skipped) continue;
    grouped += 1;
    if (parts > 1) parted += 1;
    unlike += findings.length;
    for (const text of findings) console.log(JSON.stringify({ seed, what: 'parts', text }));
  }
  const until = untilLostOf(seed);
  if (until.lost > 0) ended += 1;
  unended += until.findings.length;
  for (const text of until.findings) console.log(JSON.stringify({ seed, what: 'first lost', text }));
  const shown = shownAsTold(seed);
  worked += shown.worked;
  untold += shown.findings.length;
  for (const text of shown.findings) console.log(JSON.stringify({ seed, what: 'shown', text }));
  // Kept answers of boards wired anyhow beside the whole solution.
  for (let k = 0; k < 20; k += 1) {
    const { board, asked, findings } = anyhowAsSolved(20 * seed + k);
    answers += asked;
    unsolved += findings.length;
    for (const text of findings)
      console.log(JSON.stringify({ seed: 20 * seed + k, board, what: 'solved', text }));
  }
  // A search for a repair takes as long as many proofs.
  if (seed % 25 === 0) {
    const one = shipped[(seed / 25) % shipped.length] as Exercise;
    repaired += 1;
    if (!repair(repairTask(one, twoWrong(one, seeded(seed))), { most: 2 }).found) {
      missed += 1;
      console.log(JSON.stringify({ seed, board: one.id, what: 'repair', text: 'missed within two edits' }));
    }
  }
  // Every fault of a board is a candidate.
  if (seed % 5 === 0) {
    searched += 1;
    for (const text of [droppedByFindings(seed), droppedBySearch(seed)]) {
      if (text === null) continue;
      dropped += 1;
      console.log(JSON.stringify({ seed, what: 'search', text }));
    }
  }
  // The answers of a plain solver to questions about a board.
  if (seed % 4 === 0) {
    const { bench, questions } = askedOn(seed, 20);
    const board = new AskedBoard(bench);
    for (const question of questions) {
      const answer = plainAnswer(bench, question);
      if (answer === null) continue;
      asked += 1;
      if (judgeAnswer(board, question, answer).share === 1) continue;
      refused += 1;
      console.log(JSON.stringify({ seed, what: 'question', text: question }));
    }
  }
  // A table takes seconds to make.
  if (seed % 20 === 7) {
    const one = shipped[((seed - 7) / 20) % shipped.length] as Exercise;
    tables += 1;
    for (const text of deadTestFindings(one, 200, seed).wrong) {
      unfound += 1;
      console.log(JSON.stringify({ seed, board: one.id, what: 'dead test', text }));
    }
  }
  // Some thirty boards are marked for one exercise.
  if (seed % 20 === 13) {
    const marked = marksOf((seed - 13) / 20);
    right += marked.right;
    mistaken += marked.wrong;
    alike += marked.alike.length;
    for (const text of marked.findings) {
      unfair += 1;
      console.log(JSON.stringify({ seed, what: 'mark', text }));
    }
  }
  if (seed % 2 === 0) {
    const said = explainedOn(seed);
    sentences += said.sentences;
    for (const text of said.untrue) {
      untrue += 1;
      console.log(JSON.stringify({ seed, what: 'explain', text }));
    }
  }
  if (seed % 10 === 3)
    for (const one of leftOut(seed)) {
      less += 1;
      if (one.more > 0.05) more += 1;
      if (one.passes) unfair += 1;
      if (one.passes || one.more > 3) {
        console.log(JSON.stringify({ seed, what: 'a lead less', ...one }));
      }
    }
  // All usual mistakes on a variant.
  if (seed % 40 === 7) {
    const one = exercises()[((seed - 7) / 40) % exercises().length] as Exercise;
    varied += 1;
    for (const text of [...unlikeOriginal(one, seed), ...mistakesUnlike(one, seed)]) {
      unlikes += 1;
      console.log(JSON.stringify({ seed, what: 'variant', text }));
    }
  }
  // A dry run marks some sixty boards.
  if (seed % 40 === 17) {
    const one = wired[((seed - 17) / 40) % wired.length] as Exercise;
    const trials = [...dryRun(one)];
    tried += trials.length;
    for (const { title, says } of bySurprise(trials).filter(({ surprise }) => surprise > 0.5)) {
      surprising += 1;
      console.log(JSON.stringify({ seed, board: one.id, what: 'dry run', text: `${title}: ${says}` }));
    }
  }
  for (const finding of result.findings) {
    count[finding.what] = (count[finding.what] ?? 0) + 1;
    console.log(JSON.stringify(finding));
  }
}
console.log(
  [
    `${boards} wrong boards from seed ${first}, ${traces} traces, ${skipped} too large for the plain checker`,
    `${missed} of ${repaired} boards with two wrong leads not repaired`,
    `${dropped} of ${searched} true faults dropped`,
    `${unfound} mistakes not found by ${tables} dead-test tables`,
    `${unfair} unfair marks of ${right} right boards and ${mistaken} usual mistakes (${alike} cannot be told from a right board)`,
    `${more} of ${less} wrong boards worth more with a right lead less`,
    `${untrue} of ${sentences} sentences untrue`,
    `${unlike} of ${grouped} boards of groups judged otherwise by parts than at once (${parted} had parts)`,
    `${refused} of ${asked} answers of a plain solver refused`,
    `${unsolved} of ${answers} kept answers unlike the whole solution`,
    `${unended} of ${ended} proofs that end with the first lost property unlike the whole one`,
    `${untold} of ${worked} lost properties that steps show otherwise than it is said`,
    `${unlikes} differences of ${varied} variants`,
    `${surprising} surprising marks of ${tried} dry runs`,
    `found: ${JSON.stringify(count)}`,
  ].join('; '),
);
// A lead less may make another circuit of a wrong board: of the many that are tried hardly one is worth
// more for it.
const oftenMore = less > 300 && more > less / 100;
process.exitCode =
  missed +
    dropped +
    unfound +
    unfair +
    surprising +
    untrue +
    unlike +
    refused +
    unlikes +
    unsolved +
    unended +
    untold >
    0 ||
  oftenMore ||
  Object.keys(count).length > 0
    ? 1
    : 0;
