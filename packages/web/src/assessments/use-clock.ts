import { useEffect, useState } from 'react';

interface Clock {
  /** The server's time when it was asked. */
  readonly now: string;
  readonly endsAt: string | null;
  readonly pausedAt: string | null;
}

const secondsBetween = (from: string, to: string): number => (Date.parse(to) - Date.parse(from)) / 1000;

/**
 * Seconds that are left by the server's clock; null where no time runs. This computer's own clock only
 * counts on from what the server said last.
 */
export function useSecondsLeft(clock: Clock | undefined): number | null {
  const { now = '', endsAt = null, pausedAt = null } = clock ?? {};
  const [since, setSince] = useState({ now, seconds: 0 });
  useEffect(() => {
    const heard = performance.now();
    const tick = () => setSince({ now, seconds: (performance.now() - heard) / 1000 });
    const every = setInterval(tick, 500);
    return () => clearInterval(every);
  }, [now]);
  if (endsAt === null) return null;
  if (pausedAt !== null) return secondsBetween(pausedAt, endsAt);
  return secondsBetween(now, endsAt) - (since.now === now ? since.seconds : 0);
}
