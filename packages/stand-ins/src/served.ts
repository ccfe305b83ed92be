import type { Server } from 'node:http';
import type { Express } from 'express';

/** What stands in for a service, on a port of loopback until it is stopped. */
export class Served {
  private constructor(
    private readonly server: Server,
    /** Its address, on the same site as the tool's: a browser sends its cookies with what is posted from there. */
    readonly address: string,
  ) {}

  /**
   * Serves an application.
   * @param tool address of the server that is tried.
   */
  static async begin(app: Express, { port = 0, tool }: { port?: number; tool: string }): Promise<Served> {
    const server = app.listen(port, '127.0.0.1');
    await new Promise((resolve, reject) => server.once('listening', resolve).once('error', reject));
    const address = server.address();
    const own = typeof address === 'object' && address !== null ? address.port : port;
    return new Served(server, `http://${new URL(tool).hostname}:${own}`);
  }

  async stop(): Promise<void> {
    this.server.closeAllConnections();
    await new Promise<void>((resolve) => this.server.close(() => resolve()));
  }
}

/** Text as it stands in a page. */
export const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);

/** A page of a stand-in. */
export const page = (title: string, ...parts: readonly string[]): string =>
  [
    `<!doctype html><html lang="en"><meta charset="utf-8"><title>${title}</title>`,
    '<style>body{font:16px/1.5 sans-serif;margin:2rem}',
    'td,th{padding:.3rem .8rem;text-align:left;border-bottom:1px solid #ccc}</style>',
    `<h1>${title}</h1>`,
    ...parts,
    '</html>',
  ].join('\n');

/** A page that posts fields to another site by itself. */
export const postingPage = (to: string, fields: Readonly<Record<string, string>>): string =>
  page(
    'Going on',
    `<form method="post" action="${escaped(to)}">`,
    ...Object.entries(fields).map(
      ([name, value]) => `<input type="hidden" name="${name}" value="${escaped(value)}">`,
    ),
    '<button>Go on</button></form>',
    '<script>document.forms[0].submit()</script>',
  );
