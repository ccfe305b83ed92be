/**
 * Threads of the page without threads: what a worker's file exposes is called in the test's own turn, so that
 * pages are tried with the bench, the proofs and the faults that they really ask.
 */
let taken = () => {};

/** Loads a worker's file and takes what it exposes. */
export class Worker {
  constructor(url) {
    this.api = new Promise((resolve, reject) => {
      queue = queue
        .then(async () => {
          let exposed = null;
          taken = (api) => (exposed = api);
          await import(decodeURIComponent(new URL(url).pathname));
          // Loaded before: it exposes the same again.
          known.set(String(url), exposed ?? known.get(String(url)));
          resolve(known.get(String(url)));
        })
        .catch(reject);
    });
  }

  addEventListener() {}
  terminate() {}
}

/** One file after the other: each is told what it exposed itself. */
let queue = Promise.resolve();
const known = new Map();

export const releaseProxy = Symbol('release');
export const proxy = (hear) => hear;
export const expose = (api) => taken(api);
export const wrap = (worker) =>
  new Proxy(
    {},
    {
      get: (_, name) =>
        name === releaseProxy ? () => {} : async (...asked) => (await worker.api)[name](...asked),
    },
  );
