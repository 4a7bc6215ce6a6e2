import type { Context, Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { html } from 'hono/html';
import { randomBytes } from 'node:crypto';

import {
  ChooseSectionSchema,
  LAUNCH_REFUSALS,
  NewSchoolSiteSchema,
  SignInSchema,
  type Arrival,
  type LaunchRefusal,
  type SchoolSites,
} from '#api';
import { enter, type Entry, type PasswordDoor } from '#server/auth';
import type { CourseManagement } from '#server/course';
import {
  allow,
  idParam,
  jsonBody,
  notFound,
  refuseProblem,
  refuseWith,
  userOf,
  type AppEnv,
  type Front,
} from '#server/http';

import type { Arrivals, Came } from './arrivals.ts';
import { choiceAnswer } from './choice.ts';
import type { SigningKeys } from './keys.ts';
import type { Launches } from './launch.ts';
import type { Passback } from './passback.ts';
import type { Sites } from './sites.ts';

export interface SchoolSiteRouteParts extends Entry {
  readonly sites: Sites;
  readonly keys: SigningKeys;
  readonly launches: Launches;
  readonly arrivals: Arrivals;
  readonly passback: Passback;
  readonly door: PasswordDoor;
  readonly management: Pick<CourseManagement, 'managedSection'>;
  readonly front: Front;
}

const WAY_MINUTES = 10;
const ARRIVAL_COOKIE = 'zorvet_arrival';
const ARRIVAL_MINUTES = 30;
/** What a launch may carry: a token with its claims. */
const MOST_FORM_BYTES = 128 * 1024;

/** Where this server is reached, as a site has to be told. */
const addressesOf = (c: Context, { publicUrl }: Front): SchoolSites['own'] => {
  const origin = publicUrl?.origin ?? new URL(c.req.url).origin;
  return { signInUrl: `${origin}/lti/login`, launchUrl: `${origin}/lti/launch`, keysUrl: `${origin}/lti/keys` };
};

/** The fields of a query or a form, the first of each name. */
async function fieldsOf(c: Context): Promise<Record<string, string>> {
  if (c.req.method === 'GET') return c.req.query();
  const body = await c.req.parseBody().catch(() => ({}));
  return Object.fromEntries(
    Object.entries(body).flatMap(([name, value]) => (typeof value === 'string' ? [[name, value] as const] : [])),
  );
}

/** What the school's site and this server say to each other through the browser, and what people choose in between. */
export function schoolSiteRoutes(app: Hono<AppEnv>, parts: SchoolSiteRouteParts): void {
  app.use('/lti/*', async (c, next) => {
    await next();
    c.header('Cache-Control', 'no-store');
  });
  launchRoutes(app, parts);
  arrivalRoutes(app, parts);
  choiceRoute(app, parts);
  registrationRoutes(app, parts);
  gradeRoutes(app, parts);
}

const refused = (c: Context, why: LaunchRefusal): Response => c.redirect(`/arrive?refused=${why}`, 303);

/** The cookie of a way in comes back with a form that the site's page sends: where there is HTTPS, from another site too. */
const wayCookie = (secure: boolean) => ({
  httpOnly: true,
  path: '/lti',
  maxAge: WAY_MINUTES * 60,
  ...(secure ? ({ sameSite: 'None', secure: true } as const) : ({ sameSite: 'Lax', secure: false } as const)),
});

function launchRoutes(app: Hono<AppEnv>, parts: SchoolSiteRouteParts): void {
  const { launches, arrivals, front, keys, secureCookie } = parts;
  const limit = bodyLimit({ maxSize: MOST_FORM_BYTES, onError: (c) => refused(c, 'bad-launch') });

  app.on(['GET', 'POST'], '/lti/login', allow('anyone'), limit, async (c) => {
    const begun = await launches.begin(await fieldsOf(c), addressesOf(c, front).launchUrl);
    if (begun === null) return refused(c, 'unknown-site');
    setCookie(c, begun.cookieName, begun.cookie, wayCookie(secureCookie));
    return c.redirect(begun.url, 302);
  });

  app.post('/lti/launch', allow('anyone'), limit, async (c) => {
    const outcome = await launches.finish(await fieldsOf(c), (name) => getCookie(c, name));
    if (!outcome.ok) return refused(c, outcome.why);
    const { site, arrived } = outcome;
    const step = arrivals.next(arrivals.came(site, arrived));
    if (typeof step === 'string') return refused(c, step);
    // Who is known is signed in at once; whoever is not yet says first who that is.
    const { user } = arrivals.came(site, arrived);
    if (user !== null) enter(c, parts, user.id);
    if (step.kind === 'done') return c.redirect(step.to, 303);
    const token = arrivals.keep(site, arrived);
    setCookie(c, ARRIVAL_COOKIE, token, {
      httpOnly: true,
      sameSite: 'Lax',
      path: '/',
      secure: secureCookie,
      maxAge: ARRIVAL_MINUTES * 60,
    });
    return c.redirect('/arrive', 303);
  });

  app.get('/lti/keys', allow('anyone'), async (c) => c.json({ keys: await keys.publicKeys() }));
}

/** What somebody who came has to choose, in the browser that has the cookie. */
function arrivalRoutes(app: Hono<AppEnv>, parts: SchoolSiteRouteParts): void {
  const { arrivals, door } = parts;
  const came = (c: Context<AppEnv>): Came | null => arrivals.find(getCookie(c, ARRIVAL_COOKIE) ?? '');
  const GONE = 'This way in is too old. Open the link on the site of your school again.';

  /** Answers with what comes next. */
  function answer(c: Context<AppEnv>): Response {
    const found = came(c);
    if (found === null) return refuseWith(c, 'wrong-code', GONE);
    const step = arrivals.next(found);
    if (typeof step === 'string') return refuseWith(c, 'not-connected', LAUNCH_REFUSALS[step]);
    if (step.kind === 'done') deleteCookie(c, ARRIVAL_COOKIE, { path: '/' });
    const { site, arrived } = found;
    return c.json({ site: site.name, name: arrived.name, course: arrived.context.title, step } satisfies Arrival);
  }

  app.get('/api/arrival', allow('anyone'), answer);

  app.post('/api/arrival/account', allow('anyone'), jsonBody(SignInSchema), async (c) => {
    const found = came(c);
    if (found === null) return refuseWith(c, 'wrong-code', GONE);
    const opened = await door(c, c.req.valid('json'));
    if (!opened.ok) return opened.refusal;
    const connected = arrivals.connect(found, opened.userId);
    if (!connected.ok) return refuseProblem(c, connected.problem);
    enter(c, parts, opened.userId);
    return answer(c);
  });

  app.post('/api/arrival/new', allow('anyone'), (c) => {
    const found = came(c);
    if (found === null) return refuseWith(c, 'wrong-code', GONE);
    const added = arrivals.add(found);
    if (!added.ok) return refuseProblem(c, added.problem);
    enter(c, parts, added.value);
    return answer(c);
  });

  app.post('/api/arrival/section', allow('anyone'), jsonBody(ChooseSectionSchema), (c) => {
    const found = came(c);
    if (found === null) return refuseWith(c, 'wrong-code', GONE);
    const chosen = arrivals.chooseSection(found, c.req.valid('json').sectionId);
    return chosen.ok ? answer(c) : refuseProblem(c, chosen.problem);
  });
}

/** Takes the chosen assignments back to the site: a page that sends itself on, for a form of ours may go nowhere else. */
function choiceRoute(app: Hono<AppEnv>, { arrivals, keys, front }: SchoolSiteRouteParts): void {
  app.get('/lti/chosen', allow('anyone'), async (c) => {
    const found = arrivals.find(getCookie(c, ARRIVAL_COOKIE) ?? '');
    if (found === null) return refused(c, 'old-launch');
    const ids = (c.req.query('assignments') ?? '').split(',').map(Number);
    const chosen = arrivals.assignmentsOf(found).filter(({ id }) => ids.includes(id));
    const { choosing, role } = found.arrived;
    if (role !== 'staff' || found.user === null || choosing === null || chosen.length === 0)
      return refused(c, 'not-staff');
    const payload = choiceAnswer(
      found,
      choosing.several ? chosen : chosen.slice(0, 1),
      addressesOf(c, front).launchUrl,
    );
    const token = await keys.sign(payload, WAY_MINUTES);
    deleteCookie(c, ARRIVAL_COOKIE, { path: '/' });
    const nonce = randomBytes(16).toString('base64');
    // The form goes where the site said, which may lead on to other addresses of its own.
    c.set(
      'contentPolicy',
      `default-src 'none'; script-src 'nonce-${nonce}'; form-action *; frame-ancestors 'none'; base-uri 'none'`,
    );
    return c.html(
      html`<!doctype html>
        <html lang="en">
          <head>
            <meta charset="utf-8" />
            <title>Back to ${found.site.name}</title>
          </head>
          <body>
            <form method="post" action="${choosing.returnUrl}">
              <input type="hidden" name="JWT" value="${token}" />
              <button>Take it to ${found.site.name}</button>
            </form>
            <script nonce="${nonce}">
              document.forms[0].submit();
            </script>
          </body>
        </html>`,
    );
  });
}

/** Registering sites, for whoever looks after the server. */
function registrationRoutes(app: Hono<AppEnv>, { sites, keys, front }: SchoolSiteRouteParts): void {
  const answer = async (c: Context<AppEnv>): Promise<Response> =>
    c.json({ sites: sites.list(), own: addressesOf(c, front), keySince: await keys.since() } satisfies SchoolSites);

  app.get('/api/school-sites', allow('administer'), answer);
  app.post('/api/school-sites', allow('administer'), jsonBody(NewSchoolSiteSchema), (c) => {
    const added = sites.add(userOf(c), c.req.valid('json'));
    return added.ok ? answer(c) : refuseProblem(c, added.problem);
  });
  app.delete('/api/school-sites/:id', allow('administer'), (c) => {
    const removed = sites.remove(userOf(c), idParam(c) ?? 0);
    return removed.ok ? answer(c) : refuseProblem(c, removed.problem);
  });
  app.post('/api/school-sites/key', allow('administer'), async (c) => {
    await keys.renew();
    return answer(c);
  });
}

/** Class lists from the site, and grades to it, for those who manage the course. */
function gradeRoutes(app: Hono<AppEnv>, { passback, management }: SchoolSiteRouteParts): void {
  app.get('/api/sections/:id/site', allow('manage-course'), (c) => {
    const sectionId = idParam(c) ?? 0;
    if (management.managedSection(sectionId, userOf(c).id) === null) return notFound(c);
    return c.json({ site: passback.siteOf(sectionId) });
  });
  app.get('/api/sections/:id/site/members', allow('manage-course'), async (c) => {
    const sectionId = idParam(c) ?? 0;
    if (management.managedSection(sectionId, userOf(c).id) === null) return notFound(c);
    const list = await passback.classList(sectionId);
    return list.ok ? c.json(list.value) : refuseProblem(c, list.problem);
  });
  app.get('/api/assignments/:id/sent-grades', allow('manage-course'), (c) => {
    const state = passback.stateOf(idParam(c) ?? 0, userOf(c).id);
    return state === null ? notFound(c) : c.json(state);
  });
  app.post('/api/assignments/:id/sent-grades', allow('manage-course'), async (c) => {
    const sent = await passback.send(idParam(c) ?? 0, userOf(c));
    return sent.ok ? c.json(sent.value) : refuseProblem(c, sent.problem);
  });
}
