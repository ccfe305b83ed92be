import type { Bench } from '@contactum/core';
import { readBoard } from '../input.js';
import { Gateway } from './gateway.js';
import { boxPage } from './page.js';
import { SimulatedBox } from './simulated.js';

/** @public The stories of a physical board use them too. */
export { Gateway, SimulatedBox };

/** `npm run stand-in -- scanner --board FILE`: a simulated box on loopback until it is stopped. */
export async function startScanner({
  board: file,
  port,
  pagePort,
}: {
  readonly board: string;
  readonly port: number;
  readonly pagePort: number;
}): Promise<{ readonly modbus: string; readonly page: string; readonly stop: () => Promise<void> }> {
  const board = readBoard(file);
  const bench: Bench = 'exercise' in board ? board.exercise.bench : board.bench;
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
