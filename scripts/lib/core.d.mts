export function loadCore(): Promise<
  typeof import('@contactum/core') & typeof import('@contactum/core/exercises')
>;
