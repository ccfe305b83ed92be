import { main } from './main.js';

process.exitCode = main(
  process.argv.slice(2),
  (text) => process.stdout.write(`${text}\n`),
  (text) => process.stderr.write(`${text}\n`),
);
