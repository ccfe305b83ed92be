import { readBoard } from '../input.js';
import { boxPage } from './page.js';
import { SimulatedBox } from './simulated.js';
export { Gateway } from './gateway.js';
export { SimulatedBox } from './simulated.js';
/** `npm run stand-in -- scanner --board FILE`: a simulated box on loopback until it is stopped. */
export async function startScanner({ board: file, port, pagePort }) {
  const board = readBoard(file);
  const bench = 'exercise' in board ? board.exercise.bench : board.bench;
  const box = new SimulatedBox({ ...bench, wires: [] });
  box.plug(bench.wires);
  const own = await box.listen(port);
  const server = boxPage(box).listen(pagePort, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const address = server.address();
  const shown = typeof address === 'object' && address !== null ? address.port : pagePort;
  return {
    modbus: `127.0.0.1:${own}`,
    page: `http://127.0.0.1:${shown}/`,
    stop: async () => {
      server.closeAllConnections();
      server.close();
      await box.stop();
    },
  };
}
//# sourceMappingURL=stand-in.js.map
