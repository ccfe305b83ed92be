const RULES = new Intl.PluralRules('en');

/** A number with its noun: `1 lead`, `2 leads`, `0 leads`; a noun that does not take an s says its plural. */
export const plural = (n: number, one: string, many = `${one}s`): string =>
  `${n} ${RULES.select(n) === 'one' ? one : many}`;
