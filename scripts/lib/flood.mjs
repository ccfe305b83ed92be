/** One flood over a service, until it is ended: `flood.mjs KIND GIVEN`, with what it floods as JSON. */
import { Agent, request } from 'node:http';
import { setPriority } from 'node:os';
import { WebSocket } from 'ws';
import { pause } from './measure.mjs';
import { Caller } from './service.mjs';

setPriority(15);
const [kind, text] = process.argv.slice(2);
const { base, cookie, attempt, seeker, search } = JSON.parse(text);
const caller = new Caller(base, new Agent({ keepAlive: true, maxSockets: 100 }));
caller.cookie = cookie;

/** Says something over a socket as fast as it goes; one that is closed is opened again. */
const spam = (own, path, message) => () =>
  new Promise((resolve) => {
    const socket = new WebSocket(`${base.replace('http', 'ws')}/api${path}`, { headers: { cookie: own } });
    let n = 0;
    const say = () => {
      if (socket.readyState !== WebSocket.OPEN) return;
      for (let k = 0; k < 50; k += 1) socket.send(JSON.stringify(message((n += 1))));
      setTimeout(say, 5);
    };
    socket.once('open', say);
    socket.once('error', resolve);
    socket.once('close', resolve);
  });

/** Begins an upload and never ends it. */
const unfinished = (own) => () =>
  new Promise((resolve) => {
    const { hostname, port } = new URL(base);
    const sent = request({
      hostname,
      port,
      path: '/api/library',
      method: 'POST',
      headers: { cookie: own, 'content-type': 'application/zip', 'content-length': 15_000_000 },
    });
    const piece = Buffer.alloc(100_000);
    const timer = setInterval(() => sent.writableNeedDrain || sent.write(piece), 50);
    const end = () => {
      clearInterval(timer);
      resolve();
    };
    sent.once('response', (answer) => answer.resume().once('end', () => sent.destroy()));
    sent.once('error', end);
    sent.once('close', end);
    sent.write('PK');
  });

const reading = { kind: 'reading', from: 'G1:L1', to: 'G1:L2' };
const practice = { exerciseId: 'salt-harrow-electrical-interlock', degree: 2 };
const FLOODS = {
  edits: [30, (k) => caller.ask('POST', `/attempts/${attempt}/log`, { seq: k, entry: reading })],
  search: [3, spam(seeker, `/searches/${search}/live`, (n) => ({ n, entry: { kind: 'look', what: 'F1' } }))],
  practices: [10, () => caller.ask('POST', '/practice', practice)],
  floor: [3, spam(cookie, `/attempts/${attempt}/floor`, () => ({ kind: 'asks', yes: true }))],
  uploads: [20, unfinished(cookie)],
  strangers: [20, unfinished('')],
  guesses: [20, (k) => caller.ask('POST', '/session', { login: `guess-${k}`, password: 'guess' })],
};
const [atOnce, work] = FLOODS[kind];
process.send('begun');
for (let k = 0; k < atOnce; k += 1)
  void (async () => {
    for (;;) {
      try {
        await work(k);
      } catch {
        await pause(20);
      }
    }
  })();
