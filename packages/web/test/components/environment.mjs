import JSDOM from 'jest-environment-jsdom';

const Environment = JSDOM.default ?? JSDOM;

/** The document of the tests, with what Node has and a browser has too. */
export default class extends Environment {
  async setup() {
    await super.setup();
    const { Response, Request, Headers, fetch, structuredClone } = globalThis;
    Object.assign(this.global, { Response, Request, Headers, fetch, structuredClone });
    // One kind of bytes: those of the document are another one's, and a cipher knows only its own.
    this.global.Uint8Array = Uint8Array;
  }
}
