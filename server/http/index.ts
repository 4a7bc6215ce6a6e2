/** What all routes share: who may call them, how refusals look, how input is checked. */
import { vValidator } from '@hono/valibot-validator';
import type { Context, MiddlewareHandler } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import type { RateLimiterAbstract } from 'rate-limiter-flexible';
import * as v from 'valibot';

import { parseJson } from '#core/json';
import { mayDo, rolesThatMay, type Action, type Failure, type User } from '#api';
import { statusOf, succeed, type Problem, type ProblemCode } from '#core/problem';

export { BadSetting, clientAddress, frontOf, NO_FRONT, type Front } from './proxy.ts';
export { receiveForm, type UploadedForm } from './upload.ts';

export interface AppEnv {
  /** Who asks, and the token of their session. */
  readonly Variables: {
    readonly user: User | null;
    readonly token: string | null;
    /** What the page of this answer may load and send, where that differs from the others. */
    readonly contentPolicy?: string;
  };
}

/** Whether somebody has room for one more within a limit; takes it where there is. */
export const takesRoom = (limiter: RateLimiterAbstract, who: string | number): Promise<boolean> =>
  limiter.consume(who).then(
    () => true,
    () => false,
  );

/** Anybody, whoever is signed in, or the roles that may do something. */
export type Access = 'anyone' | 'signed-in' | Action;

/** Routes declare who may call them; a test walks all routes and finds one that does not. */
export type GuardedHandler = MiddlewareHandler<AppEnv> & { readonly access: Access };

/** Answers 401 to nobody, 403 to a role that may not do it. */
export function allow(access: Access): GuardedHandler {
  const guard: MiddlewareHandler<AppEnv> = async (c, next) => {
    const user = c.get('user');
    if (access !== 'anyone' && user === null)
      return refuseWith(c, 'signed-out', 'You are not signed in. Sign in to go on; what you typed is kept.');
    if (user && access !== 'anyone' && access !== 'signed-in' && !mayDo(user, access))
      return refuseWith(c, 'not-allowed', `Only ${whoMay(access)} may do this.`);
    return next();
  };
  return Object.assign(guard, { access });
}

const whoMay = (action: Action): string =>
  rolesThatMay(action)
    .map((role) => `${role}s`)
    .join(' and ');

/** Answers a refusal with the status of its code. */
export const refuseWith = (c: Context, code: ProblemCode, message: string): Response =>
  c.json({ error: { code, message } } satisfies Failure, statusOf(code));

export const refuseProblem = (c: Context, { code, message }: Problem): Response => refuseWith(c, code, message);

export const notFound = (c: Context): Response =>
  refuseWith(c, 'not-found', 'There is nothing at this address, or it is not yours to see.');

/** The signed-in user of a route that requires one. */
export function userOf(c: Context<AppEnv>): User {
  const user = c.get('user');
  if (user === null) throw new Error('route without guard');
  return user;
}

/** Checks a JSON body against a schema and answers 400 with the first fault. */
export const jsonBody = <S extends v.GenericSchema>(schema: S) =>
  vValidator('json', schema, (result, c) => {
    if (result.success) return undefined;
    const [issue] = result.issues;
    const path = v.getDotPath(issue);
    return refuseWith(c, 'bad-input', path === null ? issue.message : `${path}: ${issue.message}`);
  });

/** JSON that a request may carry: of somebody signed in a whole exercise, of anybody a name and a password. */
const MOST_JSON_BYTES = { signedIn: 2.5 * 1024 * 1024, anyone: 16 * 1024 } as const;

/** Refuses JSON that is larger than any request needs before it is read. Files have limits at their own routes. */
export const limitJson: MiddlewareHandler<AppEnv> = (c, next) => {
  if (!(c.req.header('content-type') ?? '').toLowerCase().includes('json')) return next();
  const maxSize = c.get('user') === null ? MOST_JSON_BYTES.anyone : MOST_JSON_BYTES.signedIn;
  return bodyLimit({
    maxSize,
    onError: (context) => refuseWith(context, 'too-large', 'This request is larger than any needs to be.'),
  })(c, async () => {
    // A copy: whoever handles the request reads it again.
    const text = await c.req.raw.clone().text();
    const body = text === '' ? succeed(null) : parseJson(text);
    if (body.ok) await next();
    else c.res = refuseProblem(c, body.problem);
  });
};

/** A positive whole number of the path, or null. */
export function idParam(c: Context, name = 'id'): number | null {
  const value = Number(c.req.param(name));
  return Number.isSafeInteger(value) && value > 0 ? value : null;
}

/** A name that is safe in a header and on any disk. */
export const safeFileName = (name: string): string =>
  name
    .replace(/[^\p{L}\p{N}._ -]/gu, '_')
    .replace(/^\.+/, '')
    .slice(0, 120)
    .trim() || 'model.step';

/** A page or a stage as a request names it, from 1; anything that is no such number is as if nothing was said. */
export const placeParam = (text: string | undefined): number | undefined =>
  text !== undefined && /^[1-9]\d?$/.test(text) ? Number(text) : undefined;

/** What an answer says of a file that is to be kept under a name of its own. */
export const fileHeaders = (name: string, type: string): Record<string, string> => ({
  'Content-Type': type,
  'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
});

/** A PDF to be kept, under a name of its own. */
export const pdfBody = (c: Context<AppEnv>, bytes: Uint8Array, name: string): Response =>
  c.body(new Uint8Array(bytes), 200, fileHeaders(name, 'application/pdf'));

/** A zip that is packed while it is sent. */
export const zipResponse = (name: string, content: ReadableStream<Uint8Array>): Response =>
  new Response(content, { headers: fileHeaders(safeFileName(name), 'application/zip') });
