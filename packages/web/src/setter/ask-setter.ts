import type { SetterAnswer, SetterMessage, SetterQuestion } from '@contactum/contract';

const open = (): Worker =>
  new Worker(new URL('../workers/setter.worker.ts', import.meta.url), { type: 'module' });

let shared: Worker | null = null;
let numbered = 0;
const waiting = new Map<number, (answer: SetterAnswer) => void>();

function worker(): Worker {
  if (shared) return shared;
  shared = open();
  shared.onmessage = ({ data: { n, body } }: MessageEvent<SetterMessage<SetterAnswer>>) =>
    waiting.get(n)?.(body);
  return shared;
}

/**
 * One question to the thread of the Setter, with its one answer; what it cannot answer is thrown in its
 * words.
 */
export function askSetter<K extends SetterAnswer['kind']>(
  question: SetterQuestion,
  kind: K,
): Promise<Extract<SetterAnswer, { kind: K }>> {
  return new Promise((resolve, reject) => {
    numbered += 1;
    const n = numbered;
    waiting.set(n, (answer) => {
      waiting.delete(n);
      if (answer.kind === kind) resolve(answer as Extract<SetterAnswer, { kind: K }>);
      else reject(new Error(answer.kind === 'wrong' ? answer.why : 'The Setter answered something else.'));
    });
    worker().postMessage({ n, body: question } satisfies SetterMessage<SetterQuestion>);
  });
}

/** A question with many answers, in a thread of its own that ends when it is told to. */
export function followSetter(question: SetterQuestion, hear: (answer: SetterAnswer) => void): () => void {
  const own = open();
  own.onmessage = ({ data }: MessageEvent<SetterMessage<SetterAnswer>>) => hear(data.body);
  own.postMessage({ n: 0, body: question } satisfies SetterMessage<SetterQuestion>);
  return () => own.terminate();
}
