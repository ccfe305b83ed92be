export function backup(url: string, file: string): { tables: number };
export function restore(
  url: string,
  file: string,
): Promise<{
  counts: { people: number; classes: number; attempts: number; markings: number };
  kept: string | null;
}>;
