/**
 * How somebody comes in from a school's site: the two steps of an LTI 1.3 launch. First the site says that somebody wants
 * to come, and is asked who that is (OpenID Connect, third-party initiated); then it answers with a signed token.
 */
import { randomBytes } from 'node:crypto';

import { createRemoteJWKSet, customFetch, errors, jwtVerify, SignJWT, type JWTVerifyGetKey } from 'jose';
import { LRUCache } from 'lru-cache';
import * as v from 'valibot';

import type { LaunchRefusal } from '#api';
import type { Db } from '#server/db';

import { arrivedBy, CLAIM, LaunchSchema, type Arrived, type Launch } from './claims.ts';
import type { SchoolSite, Sites } from './sites.ts';

/** From the first step to the second: a person may have to sign in at the site meanwhile. */
const STEP_MINUTES = 10;
/** A token is taken until it is so old, whatever it says of itself. */
const TOKEN_MINUTES = 10;
const CLOCK_SECONDS = 60;
const MOST_SITES = 200;
const KEYS_PATIENCE_MS = 5000;

export interface Begun {
  /** Where the browser goes to be asked who it is. */
  readonly url: string;
  /** Both belong to the browser alone: what the site sends back is taken only from it. */
  readonly cookieName: string;
  readonly cookie: string;
}

export type LaunchOutcome =
  | { readonly ok: true; readonly site: SchoolSite; readonly arrived: Arrived }
  | { readonly ok: false; readonly why: LaunchRefusal };

export interface Launches {
  /** The first step; null for a site that is not known. */
  begin(asked: Readonly<Record<string, string>>, launchUrl: string): Promise<Begun | null>;
  /** The second step: who came. `cookieOf` gives the cookie of a name that the browser sent along. */
  finish(
    form: Readonly<Record<string, string>>,
    cookieOf: (name: string) => string | undefined,
  ): Promise<LaunchOutcome>;
}

export interface LaunchParts {
  readonly db: Db;
  readonly sites: Sites;
  readonly fetch: typeof fetch;
  readonly now: () => Date;
}

const StateSchema = v.object({ siteId: v.number(), nonce: v.string(), cookie: v.string() });
const no = (why: LaunchRefusal): LaunchOutcome => ({ ok: false, why });

/** Claims that an audience of several parties asks for. */
const isForUs = ({ aud, azp }: Launch, clientId: string): boolean =>
  azp === null ? !Array.isArray(aud) || aud.length === 1 : azp === clientId;

const cookieNameOf = (cookie: string): string => `zorvet_way_${cookie.slice(0, 8)}`;

export function createLaunches({ db, sites, fetch: fetchFrom, now }: LaunchParts): Launches {
  // States live for minutes; those that a restart interrupts are begun again.
  const secret = randomBytes(32);
  const keysOf = new LRUCache<string, JWTVerifyGetKey>({ max: MOST_SITES });
  const take = db.prepare<[string, string]>(
    'INSERT INTO site_launches (nonce, expires_at) VALUES (?, ?) ON CONFLICT DO NOTHING',
  );
  const forget = db.prepare<[string]>('DELETE FROM site_launches WHERE expires_at < ?');

  function keysFrom(url: string): JWTVerifyGetKey {
    const known = keysOf.get(url);
    if (known !== undefined) return known;
    const keys = createRemoteJWKSet(new URL(url), { timeoutDuration: KEYS_PATIENCE_MS, [customFetch]: fetchFrom });
    keysOf.set(url, keys);
    return keys;
  }

  /** Takes a launch once. */
  const isFirst = db.transaction((nonce: string): boolean => {
    const time = now();
    forget.run(time.toISOString());
    const until = new Date(time.getTime() + (STEP_MINUTES + TOKEN_MINUTES) * 60_000);
    return take.run(nonce, until.toISOString()).changes > 0;
  });

  async function stateOf(token: string): Promise<v.InferOutput<typeof StateSchema> | null> {
    try {
      const { payload } = await jwtVerify(token, secret, { algorithms: ['HS256'], currentDate: now() });
      return v.parse(StateSchema, payload);
    } catch {
      return null;
    }
  }

  /** The claims of a token that the site of this issuer and client has signed for us, or why they are not taken. */
  async function claimsOf(token: string, { issuer, clientId, keysUrl }: SchoolSite): Promise<Launch | LaunchRefusal> {
    try {
      const { payload } = await jwtVerify(token, keysFrom(keysUrl), {
        issuer,
        audience: clientId,
        // What is signed with a secret that two share, or not at all, is nobody's word.
        algorithms: ['RS256', 'RS384', 'RS512', 'PS256', 'ES256', 'ES384'],
        requiredClaims: ['exp', 'iat', 'sub', 'nonce'],
        maxTokenAge: TOKEN_MINUTES * 60,
        clockTolerance: CLOCK_SECONDS,
        currentDate: now(),
      });
      const claims = v.safeParse(LaunchSchema, payload);
      return claims.success && isForUs(claims.output, clientId) ? claims.output : 'bad-launch';
    } catch (error) {
      if (error instanceof errors.JWTExpired) return 'old-launch';
      // The keys of the site cannot be had; all else is a fault of the token.
      const isFault =
        error instanceof errors.JOSEError && error.code !== 'ERR_JWKS_TIMEOUT' && error.code !== 'ERR_JOSE_GENERIC';
      return isFault ? 'bad-launch' : 'site-silent';
    }
  }

  return {
    async begin(asked, launchUrl) {
      const { iss = '', login_hint: hint = '', client_id: clientId, lti_message_hint: messageHint } = asked;
      const site = sites.ofIssuer(iss, clientId ?? null);
      if (site === null || hint === '') return null;
      const cookie = randomBytes(24).toString('base64url');
      const nonce = randomBytes(24).toString('base64url');
      const seconds = Math.floor(now().getTime() / 1000);
      const state = await new SignJWT({ siteId: site.id, nonce, cookie })
        .setProtectedHeader({ alg: 'HS256' })
        .setExpirationTime(seconds + STEP_MINUTES * 60)
        .sign(secret);
      const url = new URL(site.signInUrl);
      const parameters = {
        scope: 'openid',
        response_type: 'id_token',
        response_mode: 'form_post',
        prompt: 'none',
        client_id: site.clientId,
        redirect_uri: launchUrl,
        login_hint: hint,
        state,
        nonce,
        ...(messageHint === undefined ? {} : { lti_message_hint: messageHint }),
      };
      for (const [name, value] of Object.entries(parameters)) url.searchParams.set(name, value);
      return { url: url.href, cookieName: cookieNameOf(cookie), cookie };
    },
    async finish({ state = '', id_token: token, error }, cookieOf) {
      const begun = await stateOf(state);
      if (begun === null || cookieOf(cookieNameOf(begun.cookie)) !== begun.cookie) return no('old-launch');
      const asked = sites.find(begun.siteId);
      if (asked === null) return no('unknown-site');
      if (token === undefined || error !== undefined) return no('site-refused');
      const claims = await claimsOf(token, asked);
      if (typeof claims === 'string') return no(claims);
      if (claims.nonce !== begun.nonce) return no('bad-launch');
      const site = sites.ofDeployment(asked, claims[CLAIM.deployment]);
      if (site === null) return no('unknown-site');
      if (!isFirst(claims.nonce)) return no('used-launch');
      const arrived = arrivedBy(claims);
      return arrived === null ? no('no-role') : { ok: true, site, arrived };
    },
  };
}
