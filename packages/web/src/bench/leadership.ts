import { useEffect, useState } from 'react';
import type { LogEntryRequest } from '@contactum/contract';

/** Which of several tabs of one attempt works on its board; the others follow it. */
export interface Leadership {
  readonly role: 'asking' | 'leading' | 'following';
  /** Tells the other tabs an entry. */
  readonly tell: (request: LogEntryRequest) => void;
  /** Hears what the leading tab enters. */
  readonly hear: (listener: (request: LogEntryRequest) => void) => () => void;
  /** Makes this tab the one that works. */
  readonly take: () => void;
}

/**
 * One tab holds the attempt's lock and works; the others hear its entries and follow. When it is closed, or
 * another one takes the lead, the lock goes on. A browser without locks lets every tab lead, and the server
 * tells them apart by their entries.
 */
export function useLeadership(attemptId: string): Leadership {
  const [leadership, setLeadership] = useState<Leadership>({
    role: 'asking',
    tell: () => undefined,
    hear: () => () => undefined,
    take: () => undefined,
  });
  useEffect(() => {
    const locks = (navigator as { locks?: LockManager }).locks;
    if (!locks || typeof BroadcastChannel === 'undefined') {
      setLeadership((now) => ({ ...now, role: 'leading' }));
      return undefined;
    }
    const name = `contactum.attempt.${attemptId}`;
    const channel = new BroadcastChannel(name);
    const listeners = new Set<(request: LogEntryRequest) => void>();
    const ended = new AbortController();
    let release: () => void = () => undefined;
    channel.onmessage = ({ data }: MessageEvent<LogEntryRequest>) =>
      listeners.forEach((listener) => listener(data));
    const role = (next: Leadership['role']) => {
      if (!ended.signal.aborted) setLeadership((now) => ({ ...now, role: next }));
    };
    const held = () =>
      new Promise<void>((resolve) => {
        release = resolve;
        role('leading');
      });
    /** Taken by another tab, unless this one is closed: it follows, and waits for its turn. */
    const lost = (): void => {
      if (ended.signal.aborted) return;
      role('following');
      ask({});
    };
    const ask = (options: LockOptions): void => {
      locks.request(name, options, held).catch(lost);
    };
    setLeadership({
      role: 'asking',
      tell: (request) => channel.postMessage(request),
      hear: (listener) => {
        listeners.add(listener);
        return () => listeners.delete(listener);
      },
      take: () => ask({ steal: true }),
    });
    // Whoever does not get the lock at once follows, and waits for it.
    locks
      .request(name, { ifAvailable: true }, (lock) => {
        if (lock) return held();
        lost();
        return undefined;
      })
      .catch(lost);
    return () => {
      ended.abort();
      release();
      channel.close();
    };
  }, [attemptId]);
  return leadership;
}
