import { basename, dirname } from 'node:path';
import { pino, type Logger, type StreamEntry } from 'pino';
import { createStream } from 'rotating-file-stream';
import type { Config } from './config.js';

/** Size of one log file, and how many older ones are kept. */
const SIZE = '10M';
const KEPT = 5;

/** The log of one process: to a file that rotates, to the screen, or to both; to standard error where nothing else is asked for. */
export function openLog({ logLevel, logFile, logScreen }: Config, role: string): Logger {
  const streams: StreamEntry[] = [];
  if (logFile !== undefined) {
    // Every process writes a file of its own, so that none rotates under another's hands.
    const name = `${basename(logFile).replace(/\.log$/, '')}-${role}.log`;
    streams.push({
      level: 'info',
      stream: createStream((time, index) => (time ? `${name}.${index ?? 1}` : name), {
        path: dirname(logFile),
        size: SIZE,
        maxFiles: KEPT,
      }),
    });
  }
  if (logScreen || logFile === undefined) streams.push({ level: 'info', stream: process.stderr });
  return pino({ level: logLevel, base: { role, pid: process.pid } }, pino.multistream(streams));
}
