import { createServer } from 'node:net';

/** A port that is free now, of loopback where nothing else is said. */
export function freePort(host = '127.0.0.1'): Promise<number> {
  const probe = createServer();
  return new Promise((resolve, reject) => {
    probe.once('error', reject);
    probe.listen(0, host, () => {
      const address = probe.address();
      const port = typeof address === 'object' && address !== null ? address.port : 0;
      probe.close(() => resolve(port));
    });
  });
}
