/**
 * A stand-in of a school's site that speaks LTI 1.3 as a platform: launches, choosing of links, class lists and grades. It
 * is a program of its own and knows of Zorvet only what such a site is told when the tool is registered there.
 */
import { randomUUID } from 'node:crypto';

import { Hono, type Context } from 'hono';
import { getCookie, setCookie } from 'hono/cookie';
import {
  createRemoteJWKSet,
  customFetch,
  exportJWK,
  generateKeyPair,
  jwtVerify,
  SignJWT,
  type JWTPayload,
  type JWTVerifyGetKey,
} from 'jose';

import { coursePage, peoplePage, sendingPage } from './pages.ts';
import {
  CLIENT_ID,
  DEPLOYMENT_ID,
  emptyState,
  ROLE,
  SITE_COURSE,
  SITE_NAME,
  SITE_PEOPLE,
  type SiteLink,
  type SitePerson,
  type SiteState,
} from './state.ts';

const LTI = 'https://purl.imsglobal.org/spec/lti/claim/';
const DEEP_LINKING = 'https://purl.imsglobal.org/spec/lti-dl/claim/';
const SCOPES = {
  lineItems: 'https://purl.imsglobal.org/spec/lti-ags/scope/lineitem',
  scores: 'https://purl.imsglobal.org/spec/lti-ags/scope/score',
  members: 'https://purl.imsglobal.org/spec/lti-nrps/scope/contextmembership.readonly',
} as const;
const ALGORITHM = 'RS256';
const TOKEN_S = 3600;
const MEMBERS_A_PAGE = 10;
const CHOOSING = 'choose';

export interface StandInParts {
  /** Where it is reached. */
  readonly origin: string;
  /** Where Zorvet is. */
  readonly tool: string;
  readonly fetch?: typeof fetch;
  readonly now?: () => Date;
}

export interface StandIn {
  readonly app: Hono;
  readonly state: SiteState;
  /** Signs a launch as the site does, for tests that change one claim of it. */
  sign(claims: JWTPayload, algorithm?: string): Promise<string>;
  /** The claims of a launch. */
  claimsFor(person: SitePerson, link: SiteLink | null, nonce: string): JWTPayload;
}

/** What is registered in Zorvet for a stand-in that is reached at an address. */
export const registrationOf = (origin: string) => ({
  name: SITE_NAME,
  issuer: origin,
  clientId: CLIENT_ID,
  deploymentId: DEPLOYMENT_ID,
  signInUrl: `${origin}/authorize`,
  tokenUrl: `${origin}/token`,
  keysUrl: `${origin}/keys`,
});

/** Where the members and columns of the one course are. */
export const courseServicesOf = (origin: string) => ({
  contextId: SITE_COURSE.id,
  title: SITE_COURSE.title,
  membersUrl: `${origin}/courses/${SITE_COURSE.id}/members`,
  lineItemsUrl: `${origin}/courses/${SITE_COURSE.id}/line-items`,
});

const personOf = (id: string | undefined): SitePerson | null => SITE_PEOPLE.find((person) => person.id === id) ?? null;

export async function createStandIn({
  origin,
  tool,
  fetch: fetchFrom = fetch,
  now = () => new Date(),
}: StandInParts): Promise<StandIn> {
  const { privateKey, publicKey } = await generateKeyPair(ALGORITHM);
  const kid = randomUUID();
  const state = emptyState();
  const toolKeys = createRemoteJWKSet(new URL(`${tool}/lti/keys`), { [customFetch]: fetchFrom, cooldownDuration: 0 });
  const seconds = (): number => Math.floor(now().getTime() / 1000);

  const sign: StandIn['sign'] = (claims, algorithm = ALGORITHM) =>
    new SignJWT(claims).setProtectedHeader({ alg: algorithm, kid, typ: 'JWT' }).sign(privateKey);

  const claimsFor: StandIn['claimsFor'] = (person, link, nonce) => ({
    iss: origin,
    aud: CLIENT_ID,
    sub: person.id,
    iat: seconds(),
    exp: seconds() + 300,
    nonce,
    name: person.name,
    email: person.email,
    [`${LTI}version`]: '1.3.0',
    [`${LTI}deployment_id`]: DEPLOYMENT_ID,
    [`${LTI}target_link_uri`]: `${tool}/lti/launch`,
    [`${LTI}roles`]: ROLE[person.role],
    [`${LTI}context`]: { ...SITE_COURSE, type: ['http://purl.imsglobal.org/vocab/lis/v2/course#CourseSection'] },
    'https://purl.imsglobal.org/spec/lti-nrps/claim/namesroleservice': {
      context_memberships_url: courseServicesOf(origin).membersUrl,
      service_versions: ['2.0'],
    },
    'https://purl.imsglobal.org/spec/lti-ags/claim/endpoint': {
      scope: [SCOPES.lineItems, SCOPES.scores],
      lineitems: courseServicesOf(origin).lineItemsUrl,
      ...(link?.columnId ? { lineitem: `${origin}/line-items/${link.columnId}` } : {}),
    },
    ...(link === null
      ? {
          [`${LTI}message_type`]: 'LtiDeepLinkingRequest',
          [`${DEEP_LINKING}deep_linking_settings`]: {
            deep_link_return_url: `${origin}/chosen`,
            accept_types: ['ltiResourceLink'],
            accept_presentation_document_targets: ['window'],
            accept_multiple: true,
            data: nonce,
          },
        }
      : {
          [`${LTI}message_type`]: 'LtiResourceLinkRequest',
          [`${LTI}resource_link`]: { id: link.id, title: link.title },
          [`${LTI}custom`]: link.custom,
        }),
  });

  const app = new Hono();
  app.get('/keys', async (c) =>
    c.json({ keys: [{ ...(await exportJWK(publicKey)), kid, alg: ALGORITHM, use: 'sig' }] }),
  );
  browserRoutes(app, { origin, tool, state, sign, claimsFor, toolKeys, now });
  serviceRoutes(app, { origin, state, toolKeys, now });
  return { app, state, sign, claimsFor };
}

interface BrowserParts extends Pick<StandIn, 'state' | 'sign' | 'claimsFor'> {
  readonly origin: string;
  readonly tool: string;
  readonly toolKeys: JWTVerifyGetKey;
  readonly now: () => Date;
}

const COOKIE = 'campus_person';
/** A field of a form; nothing where it is a file or missing. */
async function fieldsOf(c: Context): Promise<(name: string) => string> {
  const form = await c.req.parseBody();
  return (name) => {
    const value = form[name];
    return typeof value === 'string' ? value : '';
  };
}

const asked = (c: Context): SitePerson | null => personOf(getCookie(c, COOKIE));

/** What people see, and the way to Zorvet through their browser. */
function browserRoutes(app: Hono, parts: BrowserParts): void {
  const { origin, tool, state, sign, claimsFor, toolKeys, now } = parts;

  /** The first step of a launch: Zorvet is told that somebody wants to come. */
  const launch = (c: Context, person: SitePerson, hint: string): Response => {
    const url = new URL(`${tool}/lti/login`);
    const fields = {
      iss: origin,
      login_hint: person.id,
      target_link_uri: `${tool}/lti/launch`,
      lti_message_hint: hint,
      client_id: CLIENT_ID,
      lti_deployment_id: DEPLOYMENT_ID,
    };
    for (const [name, value] of Object.entries(fields)) url.searchParams.set(name, value);
    return c.redirect(url.href);
  };

  app.get('/', (c) => c.html(peoplePage()));
  app.post('/person', async (c) => {
    const person = personOf((await fieldsOf(c))('person'));
    if (person === null) return c.text('There is nobody of this name.', 404);
    setCookie(c, COOKIE, person.id, { httpOnly: true, sameSite: 'Lax', path: '/' });
    return c.redirect('/course', 303);
  });
  app.get('/course', (c) => {
    const person = asked(c);
    return person === null ? c.redirect('/') : c.html(coursePage(person, state));
  });
  app.get('/open/:link', (c) => {
    const person = asked(c);
    const link = state.links.get(c.req.param('link'));
    return person === null || link === undefined ? c.redirect('/') : launch(c, person, link.id);
  });
  app.get('/choose', (c) => {
    const person = asked(c);
    return person === null || person.role === 'student' ? c.redirect('/') : launch(c, person, CHOOSING);
  });

  // The second step: Zorvet asks who it is, and is answered with a signed token.
  app.get('/authorize', async (c) => {
    const { client_id: clientId, redirect_uri: to = '', login_hint: hint, state: way = '', nonce = '' } = c.req.query();
    const person = asked(c);
    const messageHint = c.req.query('lti_message_hint') ?? '';
    const link = messageHint === CHOOSING ? null : state.links.get(messageHint);
    if (clientId !== CLIENT_ID || to !== `${tool}/lti/launch` || nonce === '')
      return c.text('This is not how the tool was registered.', 400);
    if (person === null || person.id !== hint || link === undefined)
      return c.html(sendingPage(to, { state: way, error: 'login_required' }));
    return c.html(sendingPage(to, { state: way, id_token: await sign(claimsFor(person, link, nonce)) }));
  });

  // What somebody chose in Zorvet becomes links of the course, each with a column of grades.
  app.post('/chosen', async (c) => {
    const token = (await fieldsOf(c))('JWT');
    const { payload } = await jwtVerify(token, toolKeys, { issuer: CLIENT_ID, audience: origin, currentDate: now() });
    const key = String(payload['nonce']);
    if (state.seen.has(key)) return c.text('This choice was taken already.', 400);
    state.seen.add(key);
    const items = payload[`${DEEP_LINKING}content_items`] as readonly {
      readonly title: string;
      readonly custom: Record<string, string>;
      readonly lineItem?: { readonly label: string; readonly resourceId: string };
    }[];
    for (const { title, custom, lineItem } of items) {
      const columnId = lineItem === undefined ? null : randomUUID();
      if (columnId !== null && lineItem !== undefined)
        state.columns.set(columnId, { id: columnId, ...lineItem, scores: new Map() });
      const id = randomUUID();
      state.links.set(id, { id, title, custom, columnId });
    }
    return c.redirect('/course', 303);
  });
}

interface ServiceParts extends Pick<StandIn, 'state'> {
  readonly origin: string;
  readonly toolKeys: JWTVerifyGetKey;
  readonly now: () => Date;
}

/** What Zorvet asks and tells the site by itself. */
function serviceRoutes(app: Hono, { origin, state, toolKeys, now }: ServiceParts): void {
  /** Whether a request has a token that allows something. */
  const allows = (c: Context, scope: string): boolean => {
    const token = state.tokens.get((c.req.header('authorization') ?? '').replace(/^Bearer /, ''));
    return token !== undefined && token.untilMs > now().getTime() && token.scopes.includes(scope);
  };
  const NO = { error: 'no token that allows this' } as const;

  app.post('/token', async (c) => {
    const form = await fieldsOf(c);
    try {
      const { payload } = await jwtVerify(form('client_assertion'), toolKeys, {
        issuer: CLIENT_ID,
        subject: CLIENT_ID,
        audience: `${origin}/token`,
        requiredClaims: ['exp', 'iat', 'jti'],
        currentDate: now(),
      });
      if (form('grant_type') !== 'client_credentials' || state.seen.has(String(payload.jti))) throw new Error('again');
      state.seen.add(String(payload.jti));
    } catch {
      return c.json({ error: 'invalid_client' }, 401);
    }
    const known: readonly string[] = Object.values(SCOPES);
    const scopes = form('scope')
      .split(' ')
      .filter((scope) => known.includes(scope));
    if (scopes.length === 0) return c.json({ error: 'invalid_scope' }, 400);
    const token = randomUUID();
    state.tokens.set(token, { scopes, untilMs: now().getTime() + TOKEN_S * 1000 });
    return c.json({ access_token: token, token_type: 'Bearer', expires_in: TOKEN_S, scope: scopes.join(' ') });
  });

  app.get('/courses/:course/members', (c) => {
    if (!allows(c, SCOPES.members)) return c.json(NO, 401);
    const from = Number(c.req.query('from') ?? 0);
    const until = from + MEMBERS_A_PAGE;
    const here = new URL(`${courseServicesOf(origin).membersUrl}?from=${String(until)}`);
    if (until < SITE_PEOPLE.length) c.header('Link', `<${here.href}>; rel="next"`);
    return c.json({
      id: courseServicesOf(origin).membersUrl,
      context: SITE_COURSE,
      members: SITE_PEOPLE.slice(from, until).map(({ id, name, email, role }) => ({
        user_id: id,
        status: 'Active',
        name,
        email,
        roles: ROLE[role],
      })),
    });
  });

  app.post('/courses/:course/line-items', async (c) => {
    if (!allows(c, SCOPES.lineItems)) return c.json(NO, 401);
    const { label, resourceId, scoreMaximum } = await c.req.json<Record<string, string | number>>();
    const id = randomUUID();
    state.columns.set(id, { id, label: String(label), resourceId: String(resourceId), scores: new Map() });
    return c.json({ id: `${origin}/line-items/${id}`, label, resourceId, scoreMaximum }, 201);
  });

  app.post('/line-items/:id/scores', async (c) => {
    if (!allows(c, SCOPES.scores)) return c.json(NO, 401);
    const column = state.columns.get(c.req.param('id'));
    if (column === undefined) return c.json({ error: 'no such column' }, 404);
    const score = await c.req.json<{ userId: string; scoreGiven: number; scoreMaximum: number; timestamp: string }>();
    const before = column.scores.get(score.userId);
    if (personOf(score.userId) === null) return c.json({ error: 'nobody of this id' }, 422);
    if (before !== undefined && before.at > score.timestamp) return c.json({ error: 'older than what is there' }, 409);
    column.scores.set(score.userId, { score: score.scoreGiven, outOf: score.scoreMaximum, at: score.timestamp });
    return c.json({});
  });
}
