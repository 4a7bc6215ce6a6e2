/** What all routes share: who may call them, how refusals look, how input is checked. */
import { vValidator } from '@hono/valibot-validator';
import type { Context, MiddlewareHandler } from 'hono';
import type { ContentfulStatusCode } from 'hono/utils/http-status';
import * as v from 'valibot';

import type { Failure, Role, User } from '#api';

export interface AppEnv {
  readonly Variables: { readonly user: User | null };
}

export type Access = 'anyone' | 'signed-in' | Role;

/** Routes declare who may call them; a test walks all routes and finds one that does not. */
export type GuardedHandler = MiddlewareHandler<AppEnv> & { readonly access: Access };

/** Answers 401 to nobody, 403 to the wrong role. */
export function allow(access: Access): GuardedHandler {
  const guard: MiddlewareHandler<AppEnv> = async (c, next) => {
    const user = c.get('user');
    if (access !== 'anyone' && user === null)
      return refuseWith(c, 401, 'signed-out', 'You are not signed in. Sign in to go on; what you typed is kept.');
    if (user && (access === 'instructor' || access === 'student') && user.role !== access)
      return refuseWith(c, 403, 'not-allowed', `Only ${access}s may do this.`);
    return next();
  };
  return Object.assign(guard, { access });
}

export function refuseWith(c: Context, status: ContentfulStatusCode, code: string, message: string): Response {
  return c.json({ error: { code, message } } satisfies Failure, status);
}

export const notFound = (c: Context): Response =>
  refuseWith(c, 404, 'not-found', 'There is nothing at this address, or it is not yours to see.');

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
    return refuseWith(c, 400, 'bad-input', path === null ? issue.message : `${path}: ${issue.message}`);
  });

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

/** A PDF to be kept, under a name of its own. */
export const pdfBody = (c: Context<AppEnv>, bytes: Uint8Array, name: string): Response =>
  c.body(new Uint8Array(bytes), 200, {
    'Content-Type': 'application/pdf',
    'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
  });
