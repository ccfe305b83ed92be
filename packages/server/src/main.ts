import { readConfig } from './config.js';
import { startServer } from './server.js';

const running = await startServer(readConfig(process.env), { url: new URL('./worker.mjs', import.meta.url) });
process.stdout.write(`listening ${running.port}\n`);

let stopping = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (stopping) return;
    stopping = true;
    void running.stop().then(() => process.exit(0));
  });
}
