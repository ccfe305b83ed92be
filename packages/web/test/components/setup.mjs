/** What a browser has and the document of the tests lacks. */
import 'fake-indexeddb/auto';
import { Worker } from './comlink.mjs';
import { TextDecoder, TextEncoder } from 'node:util';
import { webcrypto } from 'node:crypto';

Object.assign(globalThis, { TextEncoder, TextDecoder });
if (!globalThis.crypto?.getRandomValues) Object.defineProperty(globalThis, 'crypto', { value: webcrypto });
globalThis.structuredClone ??= (value) => JSON.parse(JSON.stringify(value));
globalThis.matchMedia ??= () => ({
  matches: false,
  addListener() {},
  removeListener() {},
  addEventListener() {},
  removeEventListener() {},
});
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};
/** A channel by which a page puts something off to its next turn. */
globalThis.MessageChannel ??= class {
  port1 = { onmessage: null, close() {} };
  port2 = { postMessage: (data) => setTimeout(() => this.port1.onmessage?.({ data })), close() {} };
};
if (globalThis.window) {
  // The document knows no styles of pseudo-elements; what asks for them is content with the element's own.
  const styleOf = window.getComputedStyle.bind(window);
  window.getComputedStyle = (element) => styleOf(element);
}
Element.prototype.scrollIntoView ??= () => {};
globalThis.Worker = Worker;
/** Enough of it for a name within quotes. */
globalThis.CSS ??= { escape: (name) => name.replace(/["\\]/g, '\\$&') };
