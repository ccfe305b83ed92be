import { afterEach, beforeEach } from '@jest/globals';
import { act } from '@testing-library/react';

/** The server's end of a live line, in the test's own hand. */
export class FakeSocket {
  static readonly OPEN = 1;
  readyState = 1;
  onopen: (() => void) | null = null;
  onmessage: ((message: { data: string }) => void) | null = null;
  onclose: (() => void) | null = null;

  constructor(readonly url: string) {
    queueMicrotask(() => act(() => this.opened()));
  }

  /** What happens once the line is open. */
  protected opened(): void {
    this.onopen?.();
  }

  tell(news: object): void {
    act(() => this.onmessage?.({ data: JSON.stringify(news) }));
  }

  close(): void {
    this.readyState = 3;
    this.onclose?.();
  }
}

/** Opens every line of the tests of a file with a socket of this kind. */
export function withSockets(kind: new (url: string) => FakeSocket): void {
  const real = globalThis.WebSocket;
  beforeEach(() => {
    globalThis.WebSocket = kind as never;
  });
  afterEach(() => {
    globalThis.WebSocket = real;
  });
}
