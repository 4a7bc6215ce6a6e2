import { generateKeyPair, SignJWT } from 'jose';
import { describe, expect, it } from 'vitest';

import type { Arrival, Sending, SentGrades } from '#api';
import { createStandIn, registrationOf, SITE_PEOPLE, type SitePerson, type StandIn } from '#demo/school-site';

import { TestBrowser, type Visited } from '../testing/browser.ts';
import { GRADED, NOON, openSchool, type School } from '../testing/fixture.ts';

const ZORVET = 'http://localhost';
const CAMPUS = 'http://campus.example';
const LTI = 'https://purl.imsglobal.org/spec/lti/claim/';

interface Connected {
  readonly school: School;
  readonly site: StandIn;
  readonly browser: () => TestBrowser;
  /** Whether the site answers. */
  readonly line: { isCut: boolean };
}

/** A school whose administrator has registered a site; each reaches the other without a network. */
async function openConnected(): Promise<Connected> {
  const line = { isCut: false };
  const toSite: typeof fetch = async (input, init) => {
    if (line.isCut) throw new TypeError('fetch failed');
    return site.app.request(new Request(input, init));
  };
  const school = await openSchool(() => GRADED, 1, {}, { web: { fetch: toSite } });
  const toZorvet: typeof fetch = async (input, init) => school.app.request(new Request(input, init));
  const site = await createStandIn({ origin: CAMPUS, tool: ZORVET, fetch: toZorvet, now: () => NOON });
  expect((await school.request('bodil', 'POST', '/api/school-sites', registrationOf(CAMPUS))).status).toBe(200);
  const servers = {
    [ZORVET]: (request: Request) => school.app.request(request),
    [CAMPUS]: (request: Request) => site.app.request(request),
  };
  return { school, site, line, browser: () => new TestBrowser(servers) };
}

const person = (name: string): SitePerson => {
  const found = SITE_PEOPLE.find((one) => one.name.startsWith(name));
  if (found === undefined) throw new Error(`nobody is called ${name}`);
  return found;
};

/** Somebody signs in to the site and opens a link of its course. */
async function opens(browser: TestBrowser, name: string, link = 'start'): Promise<Visited> {
  await browser.visit(`${CAMPUS}/person`, new URLSearchParams({ person: person(name).id }));
  return browser.visit(`${CAMPUS}/${link === 'choose' ? 'choose' : `open/${link}`}`);
}

const arrivalOf = async (browser: TestBrowser): Promise<Arrival> =>
  (await (await browser.call(`${ZORVET}/api/arrival`, 'GET')).json()) as Arrival;
const whoIs = async (browser: TestBrowser): Promise<string | null> => {
  const answer = (await (await browser.call(`${ZORVET}/api/session`, 'GET')).json()) as {
    user: { login: string } | null;
  };
  return answer.user?.login ?? null;
};
const count = (school: School, table: string): number =>
  school.db.prepare<[], number>(`SELECT count(*) FROM ${table}`).pluck().get() ?? 0;

/** The instructor comes for the first time: says who she is here, and which section the course is. */
async function connectCourse({ browser }: Connected): Promise<TestBrowser> {
  const orla = browser();
  await opens(orla, 'Orla');
  await orla.call(`${ZORVET}/api/arrival/account`, 'POST', { login: 'orla', password: 'tide' });
  const { step } = await arrivalOf(orla);
  if (step.kind !== 'section') throw new Error(`asked for ${step.kind}`);
  await orla.call(`${ZORVET}/api/arrival/section`, 'POST', { sectionId: step.sections[0]?.id });
  return orla;
}

const mail = (school: School, login: string, address = `${login}@saltmarsh.example`): void => {
  school.db.prepare('UPDATE users SET email = ? WHERE login = ?').run(address, login);
};

describe('an instructor who comes from the site of the school', () => {
  it('signs in once, chooses the section of the course, and is let in from then on', async () => {
    const connected = await openConnected();
    const orla = connected.browser();
    expect((await opens(orla, 'Orla')).url.pathname).toBe('/arrive');
    expect(await arrivalOf(orla)).toMatchObject({
      site: 'Saltmarsh campus',
      name: 'Orla Fenwick',
      step: { kind: 'account', mayBeNew: false },
    });
    expect(await whoIs(orla)).toBeNull();
    const wrong = await orla.call(`${ZORVET}/api/arrival/account`, 'POST', { login: 'orla', password: 'ebb' });
    expect(wrong.status).toBe(401);
    const asked = await orla.call(`${ZORVET}/api/arrival/account`, 'POST', { login: 'orla', password: 'tide' });
    expect(await asked.json()).toMatchObject({
      step: { kind: 'section', sections: [{ course: 'Fittings', name: 'Morning' }] },
    });
    const done = await orla.call(`${ZORVET}/api/arrival/section`, 'POST', { sectionId: 1 });
    expect(await done.json()).toMatchObject({ step: { kind: 'done', to: '/desk' } });

    const later = connected.browser();
    expect((await opens(later, 'Orla')).url.pathname).toBe('/desk');
    expect(await whoIs(later)).toBe('orla');
  });

  it('cannot take the account of a student, nor a section that is not hers', async () => {
    const connected = await openConnected();
    const orla = connected.browser();
    await opens(orla, 'Orla');
    const asStudent = await orla.call(`${ZORVET}/api/arrival/account`, 'POST', { login: 'ansel', password: 'tide' });
    expect(await asStudent.json()).toMatchObject({ error: { code: 'other-role' } });
    const early = await orla.call(`${ZORVET}/api/arrival/section`, 'POST', { sectionId: 1 });
    expect(early.status).toBe(404);
    await orla.call(`${ZORVET}/api/arrival/account`, 'POST', { login: 'pim', password: 'tide' });
    const others = await orla.call(`${ZORVET}/api/arrival/section`, 'POST', { sectionId: 1 });
    expect(others.status).toBe(404);
    expect(count(connected.school, 'site_courses')).toBe(0);
  });

  it('who teaches another course here chooses nothing of this one, whatever the site says', async () => {
    const connected = await openConnected();
    await connectCourse(connected);
    const rowena = connected.browser();
    await opens(rowena, 'Rowena');
    await rowena.call(`${ZORVET}/api/arrival/account`, 'POST', { login: 'pim', password: 'tide' });
    expect((await opens(rowena, 'Rowena', 'choose')).url.search).toBe('?refused=not-staff');
    expect((await rowena.visit(`${ZORVET}/lti/chosen?assignments=1`)).url.pathname).toBe('/arrive');
    expect(connected.site.state.columns.size).toBe(0);
  });

  it('makes assignments links of the course, each of which opens its assignment', async () => {
    const connected = await openConnected();
    const orla = await connectCourse(connected);
    expect((await opens(orla, 'Orla', 'choose')).url.pathname).toBe('/arrive');
    const { step } = await arrivalOf(orla);
    expect(step).toMatchObject({ kind: 'assignments', several: true });
    const back = await orla.visit(`${ZORVET}/lti/chosen?assignments=1,2,99`);
    expect(back.url.href).toBe(`${CAMPUS}/course`);
    expect(back.text).toContain('SB-101 Cleat plate');
    const links = [...connected.site.state.links.values()].filter(({ custom }) => custom['assignment'] !== undefined);
    expect(links.map(({ custom }) => custom['assignment'])).toEqual(['1', '2']);
    expect((await opens(orla, 'Orla', links[0]?.id)).url.pathname).toBe('/assignments/1');
    expect((await opens(orla, 'Orla', links[1]?.id)).url.pathname).toBe('/assignments/2');
  });
});

describe('a student who comes from the site of the school', () => {
  it('is told to wait as long as the course is no section', async () => {
    const { browser } = await openConnected();
    const ansel = browser();
    const { url } = await opens(ansel, 'Ansel');
    expect(url.href).toBe(`${ZORVET}/arrive?refused=no-section`);
    expect(await whoIs(ansel)).toBeNull();
  });

  it('whom the list of the section knows by the mail address is in without a word', async () => {
    const connected = await openConnected();
    mail(connected.school, 'ansel');
    await connectCourse(connected);
    const ansel = connected.browser();
    expect((await opens(ansel, 'Ansel')).url.pathname).toBe('/my');
    expect(await whoIs(ansel)).toBe('ansel');
  });

  it('whom nobody knows says whether there is an account already', async () => {
    const connected = await openConnected();
    await connectCourse(connected);
    const fia = connected.browser();
    await opens(fia, 'Fia');
    expect((await arrivalOf(fia)).step).toEqual({ kind: 'account', mayBeNew: true });
    const known = await fia.call(`${ZORVET}/api/arrival/account`, 'POST', { login: 'fia', password: 'tide' });
    expect(await known.json()).toMatchObject({ step: { kind: 'done', to: '/my' } });

    const tove = connected.browser();
    await opens(tove, 'Tove');
    const added = await tove.call(`${ZORVET}/api/arrival/new`, 'POST', {});
    expect(await added.json()).toMatchObject({ step: { kind: 'done', to: '/my' } });
    expect(await whoIs(tove)).toBe('tove');
    expect((await tove.call(`${ZORVET}/api/work/1`, 'GET')).status).toBe(200);
    // Once more, and somebody new would be made twice.
    expect((await tove.call(`${ZORVET}/api/arrival/new`, 'POST', {})).status).toBe(409);
    expect(connected.school.db.prepare("SELECT login FROM users WHERE name = 'Tove Quayle'").all()).toHaveLength(1);
  });

  it('cannot take the account of somebody who came before, nor that of one who teaches', async () => {
    const connected = await openConnected();
    mail(connected.school, 'ansel');
    await connectCourse(connected);
    await opens(connected.browser(), 'Ansel');
    const tove = connected.browser();
    await opens(tove, 'Tove');
    const taken = await tove.call(`${ZORVET}/api/arrival/account`, 'POST', { login: 'ansel', password: 'tide' });
    expect(await taken.json()).toMatchObject({ error: { code: 'connected-already' } });
    const staff = await tove.call(`${ZORVET}/api/arrival/account`, 'POST', { login: 'orla', password: 'tide' });
    expect(await staff.json()).toMatchObject({ error: { code: 'other-role' } });
    expect(await whoIs(tove)).toBeNull();
  });

  it('chooses no exercises for the course', async () => {
    const connected = await openConnected();
    mail(connected.school, 'ansel');
    await connectCourse(connected);
    const ansel = connected.browser();
    await opens(ansel, 'Ansel');
    // The page of the site does not offer it; somebody may type the address of the launch.
    const { site, school } = connected;
    const { state, cookie, nonce } = await wayIn(school);
    const token = await site.sign(site.claimsFor(person('Ansel'), null, nonce));
    expect(await landingOf(school, { state, id_token: token }, cookie)).toBe('/arrive?refused=not-staff');
  });

  it('leaves nothing in another browser: what waits for a choice is tied to the cookie', async () => {
    const connected = await openConnected();
    await connectCourse(connected);
    await opens(connected.browser(), 'Tove');
    const other = connected.browser();
    expect((await other.call(`${ZORVET}/api/arrival`, 'GET')).status).toBe(409);
    expect((await other.call(`${ZORVET}/api/arrival/new`, 'POST', {})).status).toBe(409);
  });
});

/** Begins a way in by hand: what the site would be sent, and the cookie of the browser. */
async function wayIn(school: School) {
  const begun = await school.app.request(
    `${ZORVET}/lti/login?iss=${encodeURIComponent(CAMPUS)}&login_hint=x&client_id=zorvet`,
  );
  const to = new URL(begun.headers.get('location') ?? '');
  return {
    to,
    state: to.searchParams.get('state') ?? '',
    nonce: to.searchParams.get('nonce') ?? '',
    cookie: (begun.headers.get('set-cookie') ?? '').split(';')[0] ?? '',
  };
}

/** Where the second step of a launch leads. */
async function landingOf(school: School, form: Record<string, string>, cookie: string): Promise<string> {
  const answer = await school.app.request(`${ZORVET}/lti/launch`, {
    method: 'POST',
    headers: cookie === '' ? {} : { cookie },
    body: new URLSearchParams(form),
  });
  return answer.headers.get('location') ?? String(answer.status);
}

describe('a launch', () => {
  it('asks the site as the standard says: a token by a form, without asking the person again', async () => {
    const { school } = await openConnected();
    const { to } = await wayIn(school);
    expect(to.origin + to.pathname).toBe(`${CAMPUS}/authorize`);
    expect(Object.fromEntries(to.searchParams)).toMatchObject({
      scope: 'openid',
      response_type: 'id_token',
      response_mode: 'form_post',
      prompt: 'none',
      client_id: 'zorvet',
      login_hint: 'x',
      redirect_uri: `${ZORVET}/lti/launch`,
    });
  });

  it('of a site that nobody registered is refused', async () => {
    const { school } = await openConnected();
    const answer = await school.app.request(`${ZORVET}/lti/login?iss=http://elsewhere.example&login_hint=x`);
    expect(answer.headers.get('location')).toBe('/arrive?refused=unknown-site');
  });

  const minutes = (of: number): number => Math.floor(NOON.getTime() / 1000) + of * 60;
  it.each<[string, Readonly<Record<string, unknown>>, string]>([
    ['for another tool', { aud: 'another' }, 'bad-launch'],
    ['for several tools, without saying which was asked', { aud: ['zorvet', 'another'] }, 'bad-launch'],
    ['for several tools, asked by another', { aud: ['zorvet', 'another'], azp: 'another' }, 'bad-launch'],
    ['of another site', { iss: 'http://elsewhere.example' }, 'bad-launch'],
    ['that has ended', { exp: minutes(-2) }, 'old-launch'],
    ['that never ends, and is old', { iat: minutes(-60), exp: minutes(600) }, 'old-launch'],
    ['without a time', { iat: undefined }, 'bad-launch'],
    ['of nobody', { sub: undefined }, 'bad-launch'],
    ['with the nonce of another', { nonce: 'of another' }, 'bad-launch'],
    ['of a deployment that is not registered', { [`${LTI}deployment_id`]: 'other' }, 'unknown-site'],
    ['in another version of the standard', { [`${LTI}version`]: '1.1' }, 'bad-launch'],
    ['with a message that is none', { [`${LTI}message_type`]: 'LtiSubmissionReviewRequest' }, 'bad-launch'],
    ['of a guest', { [`${LTI}roles`]: ['http://purl.imsglobal.org/vocab/lis/v2/membership#Mentor'] }, 'no-role'],
    [
      'of one who teaches elsewhere in the school',
      { [`${LTI}roles`]: ['http://purl.imsglobal.org/vocab/lis/v2/institution/person#Instructor'] },
      'no-role',
    ],
    ['without a course', { [`${LTI}context`]: undefined }, 'no-role'],
    ['with roles that are no list', { [`${LTI}roles`]: 'Instructor' }, 'bad-launch'],
  ])('%s is refused', async (_what, change, why) => {
    const { school, site } = await openConnected();
    const { state, nonce, cookie } = await wayIn(school);
    const claims = { ...site.claimsFor(person('Orla'), site.state.links.get('start') ?? null, nonce), ...change };
    expect(await landingOf(school, { state, id_token: await site.sign(claims) }, cookie)).toBe(
      `/arrive?refused=${why}`,
    );
    expect(count(school, 'site_arrivals') + count(school, 'site_people')).toBe(0);
  });

  it('that somebody else signed, or nobody, is refused', async () => {
    const { school, site } = await openConnected();
    const { privateKey } = await generateKeyPair('RS256');
    const claimsOf = (nonce: string) => site.claimsFor(person('Orla'), site.state.links.get('start') ?? null, nonce);
    const part = (value: unknown): string => Buffer.from(JSON.stringify(value)).toString('base64url');
    const forgeries: ((nonce: string) => Promise<string>)[] = [
      async (nonce) => new SignJWT(claimsOf(nonce)).setProtectedHeader({ alg: 'RS256' }).sign(privateKey),
      async (nonce) =>
        new SignJWT(claimsOf(nonce))
          .setProtectedHeader({ alg: 'HS256' })
          .sign(Buffer.from('the public key, taken as a secret')),
      (nonce) => Promise.resolve(`${part({ alg: 'none' })}.${part(claimsOf(nonce))}.`),
      () => Promise.resolve('nonsense'),
      () => Promise.resolve(''),
    ];
    for (const forge of forgeries) {
      const { state, nonce, cookie } = await wayIn(school);
      expect(await landingOf(school, { state, id_token: await forge(nonce) }, cookie)).toBe(
        '/arrive?refused=bad-launch',
      );
    }
  });

  it('is taken once, in the browser that began it, and not for ever', async () => {
    const { school, site } = await openConnected();
    const token = (nonce: string) =>
      site.sign(site.claimsFor(person('Orla'), site.state.links.get('start') ?? null, nonce));
    const { state, nonce, cookie } = await wayIn(school);
    const form = { state, id_token: await token(nonce) };
    expect(await landingOf(school, form, '')).toBe('/arrive?refused=old-launch');
    expect(await landingOf(school, { ...form, state: `${state}x` }, cookie)).toBe('/arrive?refused=old-launch');
    expect(await landingOf(school, form, cookie)).toBe('/arrive');
    expect(await landingOf(school, form, cookie)).toBe('/arrive?refused=used-launch');

    const late = await wayIn(school);
    school.setHour(0.5);
    const fresh = { state: late.state, id_token: await token(late.nonce) };
    expect(await landingOf(school, fresh, late.cookie)).toBe('/arrive?refused=old-launch');
  });

  it('says so where the site does not answer, or did not let somebody through', async () => {
    const { school, site, line } = await openConnected();
    const first = await wayIn(school);
    line.isCut = true;
    const token = await site.sign(site.claimsFor(person('Orla'), null, first.nonce));
    expect(await landingOf(school, { state: first.state, id_token: token }, first.cookie)).toBe(
      '/arrive?refused=site-silent',
    );
    expect(await landingOf(school, { state: first.state, error: 'login_required' }, first.cookie)).toBe(
      '/arrive?refused=site-refused',
    );
  });
});

describe('grades', () => {
  const stateOf = async (school: School): Promise<SentGrades> =>
    (await (await school.request('orla', 'GET', '/api/assignments/1/sent-grades')).json()) as SentGrades;
  const send = async (school: School): Promise<Sending> =>
    (await (await school.request('orla', 'POST', '/api/assignments/1/sent-grades', {})).json()) as Sending;
  const statesOf = ({ students }: SentGrades) => students.map(({ name, state }) => [name, state]);

  async function withGrades() {
    const connected = await openConnected();
    const { school } = connected;
    mail(school, 'ansel');
    await connectCourse(connected);
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    // Ended, so that an exact score tells nothing that is withheld.
    school.setHour(10.5);
    school.signOutAll();
    return connected;
  }

  it('go to a column of the site, once, and again when they change', async () => {
    const { school, site } = await withGrades();
    expect(statesOf(await stateOf(school))).toEqual([
      ['ansel', 'not-connected'],
      ['fia', 'not-connected'],
    ]);
    // Ansel never came from the site; the class list there knows the mail address.
    expect(await send(school)).toMatchObject({
      sent: 1,
      failed: [{ name: 'fia', why: /^No mail address is known here/ }],
    });
    const [column] = site.state.columns.values();
    expect(column?.label).toBe('SB-101 Cleat plate');
    expect(column?.scores.get(person('Ansel').id)).toMatchObject({ score: 80, outOf: 100 });
    expect(statesOf(await stateOf(school))[0]).toEqual(['ansel', 'same']);
    mail(school, 'fia', 'nobody@saltmarsh.example');
    expect(await send(school)).toMatchObject({ sent: 0, failed: [{ name: 'fia', why: /no student with this mail/ }] });

    school.db.prepare('UPDATE attempts SET score = 95.5').run();
    expect(statesOf(await stateOf(school))[0]).toEqual(['ansel', 'to-send']);
    expect((await send(school)).sent).toBe(1);
    expect(column?.scores.get(person('Ansel').id)?.score).toBe(95.5);
    expect(site.state.columns.size).toBe(1);
  });

  it('whose column was deleted at the site go to a new one', async () => {
    const { school, site } = await withGrades();
    await send(school);
    site.state.columns.clear();
    school.db.prepare('UPDATE attempts SET score = 70').run();
    expect(await send(school)).toMatchObject({ sent: 0, failed: [{ name: 'ansel' }, { name: 'fia' }] });
    expect(await send(school)).toMatchObject({ sent: 1, failed: [{ name: 'fia' }] });
    expect([...site.state.columns.values()][0]?.scores.get(person('Ansel').id)?.score).toBe(70);
  });

  it('are kept where the site does not answer, and the sentence says what to do', async () => {
    const { school, line } = await withGrades();
    line.isCut = true;
    const answer = await school.request('orla', 'POST', '/api/assignments/1/sent-grades', {});
    expect(answer.status).toBe(502);
    expect(await answer.json()).toMatchObject({ error: { code: 'site-silent', message: /Try again/ } });
    line.isCut = false;
    expect((await send(school)).sent).toBe(1);
  });

  it('wait as long as something can be handed in: an exact score would tell what reports withhold', async () => {
    const { school } = await withGrades();
    school.setHour(9);
    school.signOutAll();
    expect(statesOf(await stateOf(school))[0]).toEqual(['ansel', 'open']);
    expect((await send(school)).sent).toBe(0);
    school.db.prepare("UPDATE assignments SET answers = 'at-once'").run();
    expect(statesOf(await stateOf(school))[0]).toEqual(['ansel', 'not-connected']);
    school.db.prepare("UPDATE assignments SET answers = 'after-due'").run();
    school.setHour(10.5);
    school.signOutAll();
    const id = school.db.prepare<[], number>("SELECT id FROM users WHERE login = 'ansel'").pluck().get() ?? 0;
    const later = new Date(NOON.getTime() + 48 * 3_600_000).toISOString();
    await school.request('orla', 'PUT', `/api/assignments/1/extensions/${String(id)}`, {
      dueAt: later,
      extraAttempts: 0,
      standing: 'owed',
      reason: 'Was ill for a week.',
    });
    expect(statesOf(await stateOf(school))[0]).toEqual(['ansel', 'open']);
  });

  it('are sent by those who manage the course alone', async () => {
    const { school } = await withGrades();
    expect((await school.request('pim', 'POST', '/api/assignments/1/sent-grades', {})).status).toBe(404);
    expect((await school.request('tilda', 'POST', '/api/assignments/1/sent-grades', {})).status).toBe(403);
    expect((await school.request('pim', 'GET', '/api/sections/1/site/members')).status).toBe(404);
  });

  it('wait where the section is no course of a site', async () => {
    const { school } = await openConnected();
    expect((await stateOf(school)).site).toBeNull();
    expect((await school.request('orla', 'POST', '/api/assignments/1/sent-grades', {})).status).toBe(409);
  });
});

describe('the class list of the site', () => {
  it('comes as a list for the roster, all pages of it, without those who teach', async () => {
    const connected = await openConnected();
    await connectCourse(connected);
    const list = (await (await connected.school.request('orla', 'GET', '/api/sections/1/site/members')).json()) as {
      text: string;
      students: number;
    };
    expect(list.students).toBe(SITE_PEOPLE.filter(({ role }) => role === 'student').length);
    expect(list.text).toContain('Tove Quayle\ttove@saltmarsh.example');
    expect(list.text).not.toContain('Orla');
    const preview = await connected.school.request('orla', 'POST', '/api/sections/1/students/preview', {
      text: list.text,
    });
    expect(preview.status).toBe(200);
  });
});

describe('the keys of this server', () => {
  it('are replaced: the site takes what the new one signs, and the old one is shown for a while', async () => {
    const connected = await openConnected();
    await connectCourse(connected);
    const { school } = connected;
    const shown = async (): Promise<string[]> =>
      (
        (await (await school.app.request(`${ZORVET}/lti/keys`)).json()) as { keys: { kid: string; d?: string }[] }
      ).keys.map(({ kid, d }) => {
        expect(d).toBeUndefined();
        return kid;
      });
    const [before] = await shown();
    expect((await school.request('bodil', 'POST', '/api/school-sites/key', {})).status).toBe(200);
    const both = await shown();
    expect(both).toHaveLength(2);
    expect(both).toContain(before);
    expect((await school.request('orla', 'GET', '/api/sections/1/site/members')).status).toBe(200);
    school.setHour(24 * 8);
    school.signOutAll();
    expect(await shown()).not.toContain(before);
  });
});

describe('a registered site', () => {
  it('is registered once, and removed with the connections of its people', async () => {
    const connected = await openConnected();
    const { school } = connected;
    await connectCourse(connected);
    const again = await school.request('bodil', 'POST', '/api/school-sites', registrationOf(CAMPUS));
    expect(again.status).toBe(409);
    const odd = await school.request('bodil', 'POST', '/api/school-sites', {
      ...registrationOf(CAMPUS),
      keysUrl: 'javascript:alert(1)',
    });
    expect(odd.status).toBe(400);
    const removed = await school.request('bodil', 'DELETE', '/api/school-sites/1');
    expect(await removed.json()).toMatchObject({ sites: [] });
    expect(count(school, 'site_people') + count(school, 'site_courses')).toBe(0);
    expect((await school.request('orla', 'GET', '/api/school-sites')).status).toBe(403);
  });
});
