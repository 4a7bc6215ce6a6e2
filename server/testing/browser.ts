/** A browser without a page: keeps cookies by address, follows redirects, and sends forms that send themselves. */

type Answers = (request: Request) => Response | Promise<Response>;

export interface Visited {
  readonly url: URL;
  readonly status: number;
  readonly text: string;
}

const MOST_STEPS = 12;
const UNESCAPED: Readonly<Record<string, string>> = {
  '&amp;': '&',
  '&quot;': '"',
  '&#39;': "'",
  '&lt;': '<',
  '&gt;': '>',
};
const plain = (text: string): string => text.replaceAll(/&(?:amp|quot|#39|lt|gt);/g, (sign) => UNESCAPED[sign] ?? sign);

/** The form of a page that its script sends at once, or null. */
function formOf(text: string): { readonly to: string; readonly fields: URLSearchParams } | null {
  if (!text.includes('document.forms[0].submit()')) return null;
  const to = /<form[^>]*action="([^"]*)"/.exec(text)?.[1];
  if (to === undefined) return null;
  const fields = [...text.matchAll(/<input type="hidden" name="([^"]*)" value="([^"]*)"/g)].map(
    ([, name = '', value = '']): [string, string] => [plain(name), plain(value)],
  );
  return { to: plain(to), fields: new URLSearchParams(fields) };
}

export class TestBrowser {
  private readonly cookies = new Map<string, Map<string, string>>();
  private readonly servers: Readonly<Record<string, Answers>>;

  /** Servers by their origin. */
  constructor(servers: Readonly<Record<string, Answers>>) {
    this.servers = servers;
  }

  private jar(origin: string): Map<string, string> {
    const jar = this.cookies.get(origin) ?? new Map<string, string>();
    this.cookies.set(origin, jar);
    return jar;
  }

  private async ask(request: Request): Promise<Response> {
    const { origin } = new URL(request.url);
    const answers = this.servers[origin];
    if (answers === undefined) throw new Error(`no server at ${origin}`);
    const cookie = [...this.jar(origin)].map(([name, value]) => `${name}=${value}`).join('; ');
    if (cookie !== '') request.headers.set('cookie', cookie);
    const response = await answers(request);
    for (const line of response.headers.getSetCookie()) {
      const [name = '', value = ''] = (line.split(';')[0] ?? '').split('=');
      if (value === '' || /max-age=0/i.test(line)) this.jar(origin).delete(name);
      else this.jar(origin).set(name, value);
    }
    return response;
  }

  /** Goes to an address, and on to wherever that leads. */
  async visit(address: string, form?: URLSearchParams): Promise<Visited> {
    let url = new URL(address);
    let sent = form;
    for (let step = 0; step < MOST_STEPS; step++) {
      const response = await this.ask(new Request(url, sent === undefined ? {} : { method: 'POST', body: sent }));
      const to = response.headers.get('location');
      if (to !== null) {
        url = new URL(to, url);
        sent = undefined;
        continue;
      }
      const text = await response.text();
      const next = formOf(text);
      if (next === null) return { url, status: response.status, text };
      url = new URL(next.to, url);
      sent = next.fields;
    }
    throw new Error(`no end of redirects at ${url.href}`);
  }

  /** Asks a server's API as its page does. */
  async call(address: string, method: string, body?: unknown): Promise<Response> {
    const { origin } = new URL(address);
    return this.ask(
      new Request(address, {
        method,
        headers: { origin, ...(body === undefined ? {} : { 'Content-Type': 'application/json' }) },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      }),
    );
  }
}
