/** What holds for every route: how long it takes, what its answers carry, the built page, and what is refused. */
import path from 'node:path';

import { serveStatic } from '@hono/node-server/serve-static';
import type { Context, Hono } from 'hono';
import { compress } from 'hono/compress';
import { csrf } from 'hono/csrf';
import { HTTPException } from 'hono/http-exception';
import { matchedRoutes } from 'hono/route';
import { secureHeaders } from 'hono/secure-headers';
import type { Logger } from 'pino';

import type { Failure } from '#api';
import { isUnwritable } from '#server/db';
import { notFound, refuseWith, type AppEnv, type Front } from '#server/http';
import type { Metrics } from '#server/service';

/** Notes how long each route takes; by its pattern, so that no number of anybody is in it. */
export function measure(app: Hono<AppEnv>, metrics: Metrics): void {
  app.use('/api/*', async (c: Context<AppEnv>, next) => {
    const started = performance.now();
    await next();
    const route = matchedRoutes(c).find(({ path: pattern }) => !pattern.includes('*'))?.path ?? 'none';
    if (route !== '/api/events')
      metrics.request(route, c.req.method, c.res.status, (performance.now() - started) / 1000);
  });
}

/** What every answer carries: who may frame it, what it may load, whether it may be kept. */
export function guard(app: Hono<AppEnv>, { publicUrl }: Front): void {
  // The kernel of the editor compiles code when it starts. Its worker reaches neither page nor cookies.
  app.use('/assets/*', async (c, next) => {
    await next();
    if (path.basename(c.req.path).startsWith('kernel-'))
      c.header('Content-Security-Policy', "default-src 'none'; script-src 'self' 'unsafe-eval'; connect-src 'self'");
  });
  // A route that has to allow more than others says so, and what it says holds instead of what follows.
  app.use('/lti/*', async (c: Context<AppEnv>, next) => {
    await next();
    const own = c.get('contentPolicy');
    if (own !== undefined) c.header('Content-Security-Policy', own);
  });
  app.use(
    secureHeaders({
      contentSecurityPolicy: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        workerSrc: ["'self'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
        baseUri: ["'none'"],
      },
      referrerPolicy: 'same-origin',
      xFrameOptions: 'DENY',
      strictTransportSecurity: false,
    }),
  );
  const isOwn = (origin: string, address: string): boolean =>
    origin === new URL(address).origin || origin === publicUrl?.origin;
  app.use('/api/*', csrf({ origin: (origin, c) => isOwn(origin, c.req.url) }));
  app.use(async (c, next) => {
    await (c.req.path === '/api/events' ? next() : compress()(c, next));
  });
  app.use('/api/*', async (c, next) => {
    await next();
    c.header('Cache-Control', 'no-store');
  });
}

/** The built page: its files may be kept for ever, for their names change with what is in them. */
export function servePage(app: Hono<AppEnv>, webRoot: string): void {
  const root = path.relative(process.cwd(), webRoot);
  app.use('/assets/*', async (c, next) => {
    await next();
    if (c.res.ok) c.header('Cache-Control', 'public, max-age=31536000, immutable');
  });
  app.use('/assets/*', serveStatic({ root, precompressed: true }));
  app.all('/assets/*', (c) => notFound(c));
  app.use('/*', serveStatic({ root }));
  app.get('/*', serveStatic({ root, path: 'index.html' }));
}

const DISK_FULL =
  'The disk of the server is full, so that nothing can be stored now. What was stored before is safe. Tell whoever runs the server, and try again later.';

/** What no route answers, and what fails in one: a sentence that says what to do, and nothing of the inside. */
export function refuseTheRest(app: Hono<AppEnv>, log: Logger): void {
  app.notFound(notFound);
  app.onError((error, c) => {
    if (error instanceof HTTPException)
      return c.json(
        { error: { code: 'refused', message: error.message || 'This request was refused.' } } satisfies Failure,
        error.status,
      );
    if (isUnwritable(error)) {
      log.error({ path: c.req.path, error: String(error) }, 'the disk takes nothing more');
      return refuseWith(c, 'disk-full', DISK_FULL);
    }
    log.error({ path: c.req.path, error: error.stack }, 'request failed');
    return refuseWith(c, 'server-error', 'Something went wrong on the server. Nothing was lost; try again.');
  });
}
