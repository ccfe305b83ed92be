/** Starts stage after stage: the next one when all of one are there, or have failed once. */
export class Starting {
  private readonly open = new Set<string>();
  private readonly left: (readonly string[])[];

  constructor(
    stages: readonly (readonly string[])[],
    private readonly start: (role: string) => void,
  ) {
    this.left = [...stages];
    this.begin();
  }

  /** One is there, or has ended; told again of the same it changes nothing. */
  isDone(role: string): void {
    if (this.open.delete(role)) this.begin();
  }

  private begin(): void {
    if (this.open.size > 0) return;
    for (const role of this.left.shift() ?? []) {
      this.open.add(role);
      this.start(role);
    }
  }
}
