import { seededNumbers, shuffled } from '../random/index.js';

export interface Sampled {
  readonly id: string;
  readonly why: 'near the pass mark' | 'examiners differ' | 'not passed' | 'random sample';
}

interface Marked {
  readonly id: string;
  readonly percent: number;
  readonly passed: boolean;
  /** Its examiners named different levels somewhere. */
  readonly differs: boolean;
}

/** Per cent around the pass mark within which everybody is looked at. */
const NEAR = 5;

/**
 * Whose work a moderator looks at: everybody near the pass mark, everybody whose examiners differ, and by
 * lot from those who passed and those who did not until there are as many as the square root of the class,
 * at least five (common practice of awarding bodies, from memory). The same for the same seed.
 */
export function moderationSample(
  marked: readonly Marked[],
  {
    passMark,
    seed,
    least = 5,
  }: { readonly passMark: number | null; readonly seed: number; readonly least?: number },
): Sampled[] {
  const picked: Sampled[] = marked.flatMap(({ id, percent, differs }): Sampled[] => {
    if (differs) return [{ id, why: 'examiners differ' }];
    return passMark !== null && Math.abs(percent - passMark) <= NEAR
      ? [{ id, why: 'near the pass mark' }]
      : [];
  });
  const random = seededNumbers(seed);
  const left = shuffled(
    marked.filter(({ id }) => !picked.some((one) => one.id === id)),
    random,
  );
  const failed = left.find(({ passed }) => !passed);
  if (failed) picked.push({ id: failed.id, why: 'not passed' });
  const size = Math.min(marked.length, Math.max(least, Math.ceil(Math.sqrt(marked.length))));
  for (const { id } of left)
    if (picked.length < size && !picked.some((one) => one.id === id))
      picked.push({ id, why: 'random sample' });
  return picked;
}
