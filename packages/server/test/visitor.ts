/** A browser's worth of navigation: cookies by site, redirects, forms that post themselves. */
export class Visitor {
  private readonly jar = new Map<string, Map<string, string>>();
  /** Addresses that were visited, in order. */
  readonly way: string[] = [];

  async fetch(url: string, init: RequestInit = {}): Promise<Response> {
    const { host } = new URL(url);
    const cookies = this.jar.get(host) ?? new Map<string, string>();
    this.jar.set(host, cookies);
    this.way.push(url);
    const response = await fetch(url, {
      ...init,
      redirect: 'manual',
      headers: {
        ...(init.headers as Record<string, string> | undefined),
        cookie: [...cookies].map(([name, value]) => `${name}=${value}`).join('; '),
      },
    });
    for (const one of response.headers.getSetCookie()) {
      const [, name = '', value = ''] = /^([^=]+)=([^;]*)/.exec(one) ?? [];
      const isOver = /expires=Thu, 01 Jan 1970/i.test(one) || value === '';
      if (isOver) cookies.delete(name);
      else cookies.set(name, value);
    }
    return response;
  }

  cookiesOf(base: string): string {
    return [...(this.jar.get(new URL(base).host) ?? [])]
      .map(([name, value]) => `${name}=${value}`)
      .join('; ');
  }

  setCookie(base: string, name: string, value: string): void {
    const { host } = new URL(base);
    this.jar.set(host, (this.jar.get(host) ?? new Map<string, string>()).set(name, value));
  }

  /** Goes to an address and on, as far as redirects lead. */
  async go(url: string, init: RequestInit = {}): Promise<{ url: string; status: number; text: string }> {
    let at = url;
    let response = await this.fetch(at, init);
    for (let hops = 0; hops < 12 && response.status >= 300 && response.status < 400; hops += 1) {
      at = new URL(response.headers.get('location') ?? '', at).href;
      response = await this.fetch(at);
    }
    return { url: at, status: response.status, text: await response.text() };
  }

  /** Posts the form of a page, as its script or a person would. */
  submit(page: { url: string; text: string }, more: Record<string, string> = {}): ReturnType<Visitor['go']> {
    const action = unescaped(/<form[^>]*action="([^"]*)"/.exec(page.text)?.[1] ?? '');
    return this.go(new URL(action, page.url).href, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ ...fieldsOf(page.text), ...more }),
    });
  }

  async api(
    base: string,
    method: string,
    path: string,
    body?: unknown,
  ): Promise<{ status: number; body: any }> {
    const response = await this.fetch(`${base}/api${path}`, {
      method,
      ...(body === undefined
        ? {}
        : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
    const text = await response.text();
    return { status: response.status, body: text === '' ? null : JSON.parse(text) };
  }
}

const unescaped = (text: string): string =>
  text.replace(/&#(\d+);/g, (_, code) => String.fromCharCode(Number(code)));

/** The hidden fields of a form. */
export function fieldsOf(text: string): Record<string, string> {
  const fields: Record<string, string> = {};
  for (const [, name = '', value = ''] of text.matchAll(
    /<input type="hidden" name="([^"]*)" value="([^"]*)"/g,
  ))
    fields[name] = unescaped(value);
  return fields;
}
