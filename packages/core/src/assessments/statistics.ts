export const sum = (values: readonly number[]): number => values.reduce((all, one) => all + one, 0);

/** NaN of nothing. */
export const mean = (values: readonly number[]): number => sum(values) / values.length;

/** Sample variance, over n − 1; NaN of fewer than two. */
export function variance(values: readonly number[]): number {
  const middle = mean(values);
  return sum(values.map((value) => (value - middle) ** 2)) / (values.length - 1);
}
