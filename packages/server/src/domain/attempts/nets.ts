/** Lists of joined terminals as one text, the same in whatever order they stand. */
export const netsText = (joined: readonly (readonly string[])[]): string =>
  joined
    .map((net) => [...net].sort().join(' '))
    .sort()
    .join('\n');
