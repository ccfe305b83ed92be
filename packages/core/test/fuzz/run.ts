/** Runs the comparison with the plain checker for some minutes and prints what differs: `run.ts MINUTES [FIRST SEED]`. */
import { checkSeed, type Finding } from './check.js';

const minutes = Number(process.argv[2] ?? 5);
const first = Number(process.argv[3] ?? 100_000);
const end = performance.now() + minutes * 60_000;
const count: Partial<Record<Finding['what'], number>> = {};
let [boards, traces, skipped] = [0, 0, 0];
for (let seed = first; performance.now() < end; seed += 1) {
  const result = checkSeed(seed);
  boards += 1;
  traces += result.traces;
  if (result.skipped) skipped += 1;
  for (const finding of result.findings) {
    count[finding.what] = (count[finding.what] ?? 0) + 1;
    console.log(JSON.stringify(finding));
  }
}
console.log(`${boards} wrong boards from seed ${first}, ${traces} traces, ${skipped} too large for the plain checker; found: ${JSON.stringify(count)}`);
process.exitCode = Object.keys(count).some((what) => what !== 'trace') ? 1 : 0;
