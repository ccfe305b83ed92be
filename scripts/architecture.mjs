/**
 * `npm run architecture [-- --check]`: draws packages and folders from the imports in the sources, what is used
 * above what uses it. With `--check` it fails where `docs/architecture.svg` is another picture.
 */
import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import dagre from '@dagrejs/dagre';
import { ROOT, Plain, tellAndExit } from './lib/paths.mjs';

const PICTURE = join(ROOT, 'docs', 'architecture.svg');
const PACKAGES = ['core', 'contract', 'server', 'web', 'cli'];
const [WIDTH, HEIGHT] = [104, 26];

const filesOf = (folder) =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((one) => one.isFile() && /\.tsx?$/.test(one.name))
    .map((one) => join(one.parentPath ?? one.path, one.name));

/** `core/circuit` of a file in a folder, `core` of one beside the folders. */
function placeOf(file) {
  const [, name, , ...inside] = relative(ROOT, file).split('/');
  return inside.length > 1 ? `${name}/${inside[0]}` : name;
}

/** From a place to those that its files import from, by any form of import. */
function importsOf() {
  const uses = new Map();
  for (const name of PACKAGES)
    for (const file of filesOf(join(ROOT, 'packages', name, 'src'))) {
      const from = placeOf(file);
      const set = uses.get(from) ?? new Set();
      uses.set(from, set);
      for (const [, what] of readFileSync(file, 'utf8').matchAll(/(?:from|import)\s*\(?\s*'([^']+)'/g)) {
        const [, other] = /^@contactum\/(\w+)/.exec(what) ?? [];
        const to = other ?? (what.startsWith('.') ? placeOf(resolve(dirname(file), what)) : null);
        if (to && to !== from) set.add(to);
      }
    }
  return uses;
}

/** What is reached by way of another is not drawn again. */
function reduced(edges) {
  const next = new Map();
  for (const [from, to] of edges) next.set(from, [...(next.get(from) ?? []), to]);
  const reaches = (from, goal, first) => {
    const queue = [...(next.get(from) ?? [])].filter((one) => one !== first);
    const seen = new Set(queue);
    for (const one of queue) {
      if (one === goal) return true;
      for (const more of next.get(one) ?? []) if (!seen.has(more)) (seen.add(more), queue.push(more));
    }
    return false;
  };
  return edges.filter(([from, to]) => !reaches(from, to, to));
}

function drawn(name, uses, y) {
  const folders = [...uses.keys()].filter((one) => one.startsWith(`${name}/`)).sort();
  const graph = new dagre.graphlib.Graph()
    .setGraph({ nodesep: 10, ranksep: 26 })
    .setDefaultEdgeLabel(() => ({}));
  for (const one of folders) graph.setNode(one, { width: WIDTH, height: HEIGHT });
  // Two folders that use one another are drawn by the one that uses more of the rest.
  const all = folders.flatMap((from) =>
    [...uses.get(from)].filter((to) => to.startsWith(`${name}/`)).map((to) => [to, from]),
  );
  const edges = reduced(all.filter(([to, from]) => !all.some(([a, b]) => a === from && b === to && a < to)));
  for (const [from, to] of edges.sort()) graph.setEdge(from, to);
  dagre.layout(graph);
  const { width = 0, height = 0 } = graph.graph();
  const stands = [...new Set([...uses].flatMap(([from, to]) => (from.split('/')[0] === name ? [...to] : [])))]
    .filter((to) => PACKAGES.includes(to) && to !== name)
    .sort();
  const on = stands.length > 0 ? ` — stands on ${stands.join(', ')}` : '';
  const title = `<text x="8" y="${y + 16}" class="t">${name}${on}</text>`;
  const lines = graph.edges().map((edge) => {
    const points = graph
      .edge(edge)
      .points.map(({ x, y: py }) => `${Math.round(x + 8)},${Math.round(py + y + 28)}`);
    return `<polyline points="${points.join(' ')}" class="e" marker-end="url(#a)"/>`;
  });
  const boxes = graph.nodes().map((one) => {
    const { x, y: top } = graph.node(one);
    const [left, up] = [Math.round(x - WIDTH / 2 + 8), Math.round(top - HEIGHT / 2 + y + 28)];
    const word = `<text x="${left + WIDTH / 2}" y="${up + 17}" class="n">${one.split('/')[1]}</text>`;
    return `<rect x="${left}" y="${up}" width="${WIDTH}" height="${HEIGHT}" rx="4" class="b"/>${word}`;
  });
  return {
    svg: [title, ...lines, ...boxes].join('\n'),
    width: width + 16,
    height: (folders.length > 0 ? height : 0) + 44,
  };
}

function picture() {
  const uses = importsOf();
  let y = 4;
  let width = 0;
  const parts = PACKAGES.map((name) => {
    const part = drawn(name, uses, y);
    y += part.height;
    width = Math.max(width, part.width);
    return part.svg;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${Math.round(width)} ${Math.round(y)}" font-family="sans-serif">
<style>
.t{font-size:14px;font-weight:bold}
.n{font-size:12px;text-anchor:middle}
.b{fill:#f4f1e8;stroke:#4a5a62}
.e{fill:none;stroke:#8a979d}
</style>
<defs>
<marker id="a" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto">
<path d="M0 0 8 4 0 8z" fill="#8a979d"/>
</marker>
</defs>
${parts.join('\n')}
</svg>
`;
}

try {
  const svg = picture();
  if (!process.argv.includes('--check')) writeFileSync(PICTURE, svg);
  else if (readFileSync(PICTURE, 'utf8') !== svg)
    throw new Plain('docs/architecture.svg is not what the imports say: npm run architecture');
} catch (error) {
  tellAndExit(error);
}
