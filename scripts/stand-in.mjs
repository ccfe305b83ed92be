/**
 * What stands in for a device or a service of a college, on loopback, until it is stopped:
 *
 * - `npm run stand-in -- scanner --board FILE [--port 5020] [--page-port 5080]`
 * - `npm run stand-in -- gradebook [--tool http://localhost:4180] [--port 4191]`
 * - `npm run stand-in -- sign-on [--tool http://localhost:4180] [--port 4192]`
 */
import { parseArgs } from 'node:util';
import { tellAndExit } from './lib/paths.mjs';
import { loadDoors, loadScanner } from './lib/stand-ins.mjs';

const KINDS = {
  async scanner({ board, port = '5020', 'page-port': pagePort = '5080' }) {
    if (board === undefined) throw new Error('The scanner needs --board FILE: a bench or an exercise.');
    const { startScanner } = await loadScanner();
    const running = await startScanner({ board, port: Number(port), pagePort: Number(pagePort) });
    console.log(
      `A simulated board behind a scanner: Modbus TCP at ${running.modbus}, its page at ${running.page}`,
    );
    return running;
  },
  async gradebook({ tool = 'http://localhost:4180', port = '4191' }) {
    const { Gradebook } = await loadDoors();
    const running = new Gradebook({ tool, port: Number(port) });
    await running.start();
    console.log(`A learning platform with two courses: ${running.issuer}`);
    console.log(`Register it with npm run admin -- platform FILE, the file holding:`);
    console.log(JSON.stringify(running.registration, null, 2));
    return running;
  },
  async 'sign-on'({ tool = 'http://localhost:4180', port = '4192' }) {
    const { SignOnStandIn } = await loadDoors();
    const running = new SignOnStandIn({ tool, port: Number(port) });
    await running.start();
    console.log(`A college's sign-on: ${running.issuer}. The server is started with:`);
    for (const [name, value] of Object.entries(running.environment)) console.log(`${name}="${value}"`);
    return running;
  },
};

try {
  const { positionals, values } = parseArgs({
    allowPositionals: true,
    options: {
      board: { type: 'string' },
      tool: { type: 'string' },
      port: { type: 'string' },
      'page-port': { type: 'string' },
    },
  });
  const start = KINDS[positionals[0] ?? ''];
  if (!start) throw new Error(`Say which stand-in: ${Object.keys(KINDS).join(', ')}.`);
  const running = await start(values);
  for (const signal of ['SIGINT', 'SIGTERM'])
    process.once(signal, () => void running.stop().then(() => process.exit(0)));
} catch (error) {
  tellAndExit(error);
}
