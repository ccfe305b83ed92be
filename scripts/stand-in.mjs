/**
 * `npm run stand-in -- scanner --board FILE [--port 5020] [--page-port 5080]`: what stands in for a device or a
 * service of a college, on loopback, until it is stopped.
 */
import { parseArgs } from 'node:util';
import { tellAndExit } from './lib/paths.mjs';
import { loadScanner } from './lib/stand-ins.mjs';

const KINDS = ['scanner'];

try {
  const { positionals, values } = parseArgs({
    allowPositionals: true,
    options: {
      board: { type: 'string' },
      port: { type: 'string', default: '5020' },
      'page-port': { type: 'string', default: '5080' },
    },
  });
  const [kind] = positionals;
  if (!KINDS.includes(kind ?? '')) throw new Error(`Say which stand-in: ${KINDS.join(', ')}.`);
  if (values.board === undefined) throw new Error('The scanner needs --board FILE: a bench or an exercise.');
  const { startScanner } = await loadScanner();
  const running = await startScanner({
    board: values.board,
    port: Number(values.port),
    pagePort: Number(values['page-port']),
  });
  console.log(
    `A simulated board behind a scanner: Modbus TCP at ${running.modbus}, its page at ${running.page}`,
  );
  for (const signal of ['SIGINT', 'SIGTERM'])
    process.once(signal, () => void running.stop().then(() => process.exit(0)));
} catch (error) {
  tellAndExit(error);
}
