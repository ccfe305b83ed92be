/** Disjoint sets over 0 … n − 1 with path halving and union by index (Tarjan 1975). */
export class UnionFind {
  readonly parent: Int32Array;

  constructor(n: number | Int32Array) {
    if (typeof n !== 'number') {
      this.parent = n.slice();
      return;
    }
    this.parent = new Int32Array(n);
    for (let k = 1; k < n; k += 1) this.parent[k] = k;
  }

  find(k: number): number {
    const { parent } = this;
    let root = k;
    for (;;) {
      const up = parent[root]!;
      if (up === root) return root;
      const upper = parent[up]!;
      parent[root] = upper;
      root = upper;
    }
  }

  /** Joins two sets; the smaller root index stays root. */
  union(a: number, b: number): void {
    const ra = this.find(a);
    const rb = this.find(b);
    if (ra < rb) this.parent[rb] = ra;
    else if (rb < ra) this.parent[ra] = rb;
  }
}
