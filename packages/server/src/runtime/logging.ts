import { basename, dirname, join } from 'node:path';
import { Writable } from 'node:stream';
import { pino, type Logger, type StreamEntry } from 'pino';
import { createStream } from 'rotating-file-stream';
import type { Config } from '../config.js';

/** Size of one log file, and how many older ones are kept. */
const SIZE = '10M';
const KEPT = 5;

/** How long it is waited until a log that could not be written is tried again, milliseconds. */
const AGAIN_MS = 60_000;

/**
 * A file that rotates. A log that cannot be written (a full disk, a folder that may only be read) ends
 * nothing: the work goes on, the screen is told once, and the file is tried again a minute later.
 */
function fileStream(path: string, name: string): Writable {
  let file: Writable | null = null;
  let triedAt = -AGAIN_MS;
  const open = (): Writable | null => {
    if (file || performance.now() - triedAt < AGAIN_MS) return file;
    triedAt = performance.now();
    const fail = (error: Error) => {
      if (file === made) file = null;
      made
        .removeAllListeners('error')
        .on('error', () => undefined)
        .destroy();
      process.stderr.write(
        `the log ${join(path, name)} cannot be written: ${error.message}; going on without it\n`,
      );
    };
    const made: Writable = createStream((time, index) => (time ? `${name}.${index ?? 1}` : name), {
      path,
      size: SIZE,
      maxFiles: KEPT,
      mode: 0o600,
    });
    made.on('error', fail);
    file = made;
    return made;
  };
  return new Writable({
    decodeStrings: false,
    write(chunk: string | Buffer, _encoding, done) {
      // Lines that do not fit any more are lost, never waited for.
      open()?.write(chunk);
      done();
    },
  });
}

/**
 * The log of one process: to a file that rotates, to the screen, or to both; to standard error where
 * nothing else is asked for.
 */
export function openLog({ logLevel, logFile, logScreen }: Config, role: string): Logger {
  const streams: StreamEntry[] = [];
  if (logFile !== undefined) {
    // Every process writes a file of its own, so that none rotates under another's hands.
    const name = `${basename(logFile).replace(/\.log$/, '')}-${role}.log`;
    streams.push({ level: 'info', stream: fileStream(dirname(logFile), name) });
  }
  if (logScreen || logFile === undefined) streams.push({ level: 'info', stream: process.stderr });
  return pino({ level: logLevel, base: { role, pid: process.pid } }, pino.multistream(streams));
}

/** What has failed beside what somebody waits for: told to the log, and nobody is kept from working. */
export const toldTo =
  (log: Logger, what: string) =>
  (error: unknown): void =>
    log.warn({ err: error }, what);
