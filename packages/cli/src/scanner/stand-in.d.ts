export { Gateway } from './gateway.js';
export { SimulatedBox } from './simulated.js';
/** `npm run stand-in -- scanner --board FILE`: a simulated box on loopback until it is stopped. */
export declare function startScanner({
  board: file,
  port,
  pagePort,
}: {
  readonly board: string;
  readonly port: number;
  readonly pagePort: number;
}): Promise<{
  readonly modbus: string;
  readonly page: string;
  readonly stop: () => Promise<void>;
}>;
