/** What a site is asked and told by this server: the members of a course, and the columns and scores of its gradebook. */
import * as v from 'valibot';

import { parseJson } from '#core/json';
import { refuse, succeed, type Result } from '#core/problem';

import { SCOPE } from './claims.ts';
import type { SigningKeys } from './keys.ts';
import type { SchoolSite } from './sites.ts';

const PATIENCE_MS = 10_000;
const MOST_PAGES = 40;
/** A token is asked for anew so long before it ends. */
const MARGIN_MS = 30_000;
const SHORTEST_TOKEN_S = 60;
const ASSERTION_MINUTES = 5;

const MEDIA = {
  members: 'application/vnd.ims.lti-nrps.v2.membershipcontainer+json',
  lineItem: 'application/vnd.ims.lis.v2.lineitem+json',
  score: 'application/vnd.ims.lis.v1.score+json',
  token: 'application/x-www-form-urlencoded',
} as const;

const TokenSchema = v.object({
  access_token: v.pipe(v.string(), v.minLength(1)),
  expires_in: v.optional(v.number(), SHORTEST_TOKEN_S),
});
const MembersSchema = v.object({
  members: v.array(
    v.object({
      user_id: v.string(),
      status: v.optional(v.string(), 'Active'),
      name: v.optional(v.string()),
      given_name: v.optional(v.string()),
      family_name: v.optional(v.string()),
      email: v.optional(v.string()),
      roles: v.optional(v.array(v.string()), []),
    }),
  ),
});
export type Member = v.InferOutput<typeof MembersSchema>['members'][number];
const LineItemSchema = v.object({ id: v.pipe(v.string(), v.minLength(1)) });

/** A grade as a site takes it. */
export interface ScoreToSend {
  readonly subject: string;
  /** Of 100. */
  readonly score: number;
  /** When it came to be; a site takes no older one after a newer. */
  readonly at: string;
}

export interface SiteServices {
  members(site: SchoolSite, url: string): Promise<Result<readonly Member[]>>;
  /** Makes a column of a gradebook; gives its address. */
  addLineItem(
    site: SchoolSite,
    url: string,
    item: { readonly label: string; readonly resourceId: string; readonly dueAt: string },
  ): Promise<Result<string>>;
  sendScore(site: SchoolSite, lineItemUrl: string, score: ScoreToSend): Promise<Result<null>>;
}

interface Asked {
  readonly scope: string;
  readonly url: string;
  /** In words, for a refusal. */
  readonly what: string;
  readonly method: 'GET' | 'POST';
  readonly accept?: string;
  readonly type?: string;
  readonly body?: string;
}

interface Token {
  readonly text: string;
  readonly untilMs: number;
}

const silent = (site: Pick<SchoolSite, 'name'>, what: string): Result<never> =>
  refuse('site-silent', `${site.name} did not answer when it was asked for ${what}. Try again in a minute.`);

/** The next page of a list, as the header `Link` names it. */
const nextPage = (link: string | null): string | null => /<([^>]+)>\s*;\s*rel="?next"?/i.exec(link ?? '')?.[1] ?? null;

/** The scores of a line item lie below its path, before what its address has of a query. */
function scoresOf(lineItemUrl: string): string {
  const url = new URL(lineItemUrl);
  url.pathname = `${url.pathname.replace(/\/$/, '')}/scores`;
  return url.href;
}

export function createSiteServices(keys: SigningKeys, fetchFrom: typeof fetch, now: () => Date): SiteServices {
  const tokens = new Map<string, Token>();

  /** The answer to a request, or null where there is none in time. */
  async function ask(
    url: string,
    init: RequestInit,
  ): Promise<{ readonly response: Response; readonly text: string } | null> {
    try {
      const response = await fetchFrom(url, { ...init, signal: AbortSignal.timeout(PATIENCE_MS) });
      return { response, text: await response.text() };
    } catch {
      return null;
    }
  }

  function read<S extends v.GenericSchema>(schema: S, text: string): v.InferOutput<S> | null {
    const json = parseJson(text);
    const parsed = json.ok ? v.safeParse(schema, json.value) : null;
    return parsed?.success === true ? parsed.output : null;
  }

  /** A token for a scope, by an assertion that is signed with our key (RFC 7523). */
  async function tokenFor(site: SchoolSite, scope: string): Promise<Result<string>> {
    const key = `${String(site.id)} ${scope}`;
    const known = tokens.get(key);
    if (known !== undefined && known.untilMs > now().getTime()) return succeed(known.text);
    const assertion = await keys.sign(
      { iss: site.clientId, sub: site.clientId, aud: site.tokenUrl },
      ASSERTION_MINUTES,
    );
    const body = new URLSearchParams({
      grant_type: 'client_credentials',
      client_assertion_type: 'urn:ietf:params:oauth:client-assertion-type:jwt-bearer',
      client_assertion: assertion,
      scope,
    });
    const answer = await ask(site.tokenUrl, {
      method: 'POST',
      headers: { 'Content-Type': MEDIA.token },
      body: body.toString(),
    });
    if (answer === null) return silent(site, 'a token');
    const token = answer.response.ok ? read(TokenSchema, answer.text) : null;
    if (token === null)
      return refuse(
        'site-refused',
        `${site.name} gives this server no token (${String(answer.response.status)}). Compare the client, the token address and the address of our keys with what the site shows.`,
      );
    tokens.set(key, {
      text: token.access_token,
      untilMs: now().getTime() + token.expires_in * 1000 - MARGIN_MS,
    });
    return succeed(token.access_token);
  }

  async function call(
    site: SchoolSite,
    { scope, url, what, method, accept, type, body }: Asked,
  ): Promise<Result<{ readonly text: string; readonly link: string | null }>> {
    const token = await tokenFor(site, scope);
    if (!token.ok) return token;
    const answer = await ask(url, {
      method,
      headers: {
        Authorization: `Bearer ${token.value}`,
        ...(accept === undefined ? {} : { Accept: accept }),
        ...(type === undefined ? {} : { 'Content-Type': type }),
      },
      ...(body === undefined ? {} : { body }),
    });
    if (answer === null) return silent(site, what);
    const { response, text } = answer;
    // A token that the site has forgotten is asked for anew the next time.
    if (response.status === 401) tokens.delete(`${String(site.id)} ${scope}`);
    if (response.status === 404)
      return refuse(
        'not-there',
        `${site.name} no longer has the place for ${what}. Send again, and a new one is made.`,
      );
    if (!response.ok) return refuse('site-refused', `${site.name} refuses ${what} (${String(response.status)}).`);
    return succeed({ text, link: response.headers.get('link') });
  }

  return {
    async members(site, url) {
      const members: Member[] = [];
      let page: string | null = url;
      for (let pages = 0; page !== null && pages < MOST_PAGES; pages++) {
        const got = await call(site, {
          scope: SCOPE.members,
          url: page,
          what: 'the class list',
          method: 'GET',
          accept: MEDIA.members,
        });
        if (!got.ok) return got;
        const found = read(MembersSchema, got.value.text);
        if (found === null) return refuse('site-refused', `${site.name} sends a class list that cannot be read.`);
        members.push(...found.members);
        page = nextPage(got.value.link);
      }
      return succeed(members);
    },
    async addLineItem(site, url, { label, resourceId, dueAt }) {
      const got = await call(site, {
        scope: SCOPE.lineItems,
        url,
        what: 'a new column of grades',
        method: 'POST',
        accept: MEDIA.lineItem,
        type: MEDIA.lineItem,
        body: JSON.stringify({ scoreMaximum: 100, label, resourceId, endDateTime: dueAt }),
      });
      if (!got.ok) return got;
      const item = read(LineItemSchema, got.value.text);
      return item === null || !URL.canParse(item.id)
        ? refuse('site-refused', `${site.name} does not say where the new column of grades is.`)
        : succeed(item.id);
    },
    async sendScore(site, lineItemUrl, { subject, score, at }) {
      const sent = await call(site, {
        scope: SCOPE.scores,
        url: scoresOf(lineItemUrl),
        what: 'a grade',
        method: 'POST',
        type: MEDIA.score,
        body: JSON.stringify({
          userId: subject,
          scoreGiven: score,
          scoreMaximum: 100,
          activityProgress: 'Completed',
          gradingProgress: 'FullyGraded',
          timestamp: at,
        }),
      });
      return sent.ok ? succeed(null) : sent;
    },
  };
}
