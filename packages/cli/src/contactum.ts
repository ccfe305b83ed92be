import { main } from './main.js';

process.exitCode = await main(
  process.argv.slice(2),
  (text) => process.stdout.write(typeof text === 'string' ? `${text}\n` : text),
  (text) => process.stderr.write(`${text}\n`),
);
