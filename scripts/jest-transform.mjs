import swc from '@swc/jest';

/**
 * TypeScript for Jest. Tests run inside a VM context, where every look at a global name is a hundred times
 * slower than in a module of its own; so each module gets the names that computation uses in its own scope.
 * Nothing else is changed.
 */
const FAST = ['Math', 'Number', 'Map', 'Set', 'Array', 'Int32Array', 'Uint8Array', 'Float64Array'];

const transformer = swc.createTransformer({
  module: { type: 'es6' },
  jsc: {
    target: 'es2022',
    parser: { syntax: 'typescript', tsx: true },
    transform: { react: { runtime: 'automatic' } },
  },
});

const hoisted = (code) => {
  const used = FAST.filter(
    (name) =>
      new RegExp(`\\b${name}\\b`).test(code) &&
      !new RegExp(`\\b(const|let|class|function)\\s+${name}\\b`).test(code),
  );
  return used.length > 0 ? `const { ${used.join(', ')} } = globalThis;${code}` : code;
};

const wrap = (result) =>
  typeof result === 'string' ? hoisted(result) : { ...result, code: hoisted(result.code) };

export default {
  ...transformer,
  process: (...given) => wrap(transformer.process(...given)),
  processAsync: async (...given) => wrap(await transformer.processAsync(...given)),
  getCacheKey: (...given) => `hoisted-1 ${transformer.getCacheKey?.(...given) ?? ''}`,
};
