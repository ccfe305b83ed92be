/** An undirected edge between two nodes of a graph. */
export interface GraphEdge {
  readonly a: number;
  readonly b: number;
}

/**
 * Number of the biconnected component of each edge (Hopcroft and Tarjan 1973): two edges have one number
 * exactly where a simple cycle runs through both. A loop has a component of its own.
 */
export function blocksOf(nodes: number, edges: readonly GraphEdge[]): Int32Array {
  const block = new Int32Array(edges.length).fill(-1);
  const at: number[][] = Array.from({ length: nodes }, () => []);
  edges.forEach(({ a, b }, k) => {
    if (a === b) return;
    at[a]!.push(k);
    at[b]!.push(k);
  });
  const order = new Int32Array(nodes);
  const low = new Int32Array(nodes);
  const open: number[] = [];
  let [time, blocks] = [0, 0];
  const close = (edge: number): void => {
    for (;;) {
      const top = open.pop()!;
      block[top] = blocks;
      if (top === edge) break;
    }
    blocks += 1;
  };
  const visit = (node: number, by: number): void => {
    time += 1;
    order[node] = time;
    low[node] = time;
    for (const edge of at[node]!) {
      if (edge === by) continue;
      const { a, b } = edges[edge]!;
      const to = a === node ? b : a;
      if (order[to]! === 0) {
        open.push(edge);
        visit(to, edge);
        low[node] = Math.min(low[node], low[to]!);
        if (low[to]! >= order[node]) close(edge);
      } else if (order[to]! < order[node]) {
        open.push(edge);
        low[node] = Math.min(low[node], order[to]!);
      }
    }
  };
  for (let node = 0; node < nodes; node += 1) if (order[node] === 0) visit(node, -1);
  for (let k = 0; k < edges.length; k += 1) if (block[k]! < 0) block[k] = blocks++;
  return block;
}
