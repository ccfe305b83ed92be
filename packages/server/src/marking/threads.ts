import { Piscina } from 'piscina';

/** What a thread that marks and searches runs. */
export interface Worker {
  readonly url: URL;
  readonly arguments?: readonly string[];
}

/** A number of threads that stay; or one that comes when it is needed, and goes when it has not been for half a minute. */
export function openThreads<Task, Answer>(worker: Worker, staying = 0): Piscina<Task, Answer> {
  return new Piscina<Task, Answer>({
    filename: worker.url.href,
    minThreads: staying,
    maxThreads: Math.max(1, staying),
    ...(staying === 0 ? { idleTimeout: 30_000 } : {}),
    execArgv: [...process.execArgv, ...(worker.arguments ?? [])],
  });
}
