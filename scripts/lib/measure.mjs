/** What several measurements share. */

export const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

export const quantile = (list, q) =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * q))];
