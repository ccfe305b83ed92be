import { readFileSync } from 'node:fs';
import type { Answer } from './answer.js';
import { Unusable, wholeNumber } from './input.js';
import { Gateway } from './scanner/gateway.js';

export interface GatewayValues {
  readonly address?: string;
  readonly server?: string;
  readonly tokenFile?: string;
  readonly for?: string;
}

/** Connects a scanner to the server until it is stopped. */
export async function gatewayCommand(values: GatewayValues): Promise<Answer> {
  const { address, server, tokenFile } = values;
  if (address === undefined) throw new Unusable('arguments: gateway needs --address HOST[:PORT]');
  if (server === undefined || !/^https?:\/\//.test(server))
    throw new Unusable('arguments: gateway needs --server URL, with http:// or https://');
  if (tokenFile === undefined) throw new Unusable('arguments: gateway needs --token-file FILE');
  const seconds = values.for === undefined ? null : wholeNumber('for', values.for, [1, 86_400]);
  const stop = new AbortController();
  const end = () => stop.abort();
  process.once('SIGINT', end).once('SIGTERM', end);
  const timer = seconds === null ? null : setTimeout(end, 1000 * seconds);
  try {
    await new Gateway({
      address,
      server,
      token: tokenIn(tokenFile),
      say: (words) => process.stderr.write(`${words}\n`),
      until: stop.signal,
    }).run();
  } finally {
    if (timer !== null) clearTimeout(timer);
    process.off('SIGINT', end).off('SIGTERM', end);
  }
  return { holds: true, json: { ok: true }, words: 'The gateway was stopped; the permit relay is open.' };
}

function tokenIn(file: string): string {
  try {
    return readFileSync(file, 'utf8').trim();
  } catch (error) {
    throw new Unusable(`${file}: (file): ${(error as Error).message}`);
  }
}
