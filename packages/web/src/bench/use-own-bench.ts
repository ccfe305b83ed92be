import { useEffect, useState } from 'react';
import { startLiveBench, type LiveBench } from './live.js';

/** A bench of a view's own, closed with the view; null until it has started. */
export function useOwnBench(): LiveBench | null {
  const [live, setLive] = useState<LiveBench | null>(null);
  useEffect(() => {
    const bench = startLiveBench();
    setLive(bench);
    return () => bench.close();
  }, []);
  return live;
}
