import { isIP } from 'node:net';

import type { Hono } from 'hono';

import type { ServiceState } from '#api';
import type { Db } from '#server/db';
import { allow, clientAddress, notFound, type AppEnv, type Front } from '#server/http';
import { PROGRAM_VERSION } from '#server/jobs';

import type { Metrics } from './metrics.ts';

export interface ServiceRouteParts {
  readonly db: Db;
  readonly metrics: Metrics;
  readonly state: () => Promise<ServiceState>;
  readonly front: Front;
  /** Who says this reads the metrics from anywhere; without, they are for the machine itself. */
  readonly metricsToken: string | null;
}

const isLoopback = (address: string): boolean =>
  address === '::1' || (isIP(address) === 4 && address.startsWith('127.'));

/** `/healthz` for whoever keeps the server running, `/metrics` for whoever watches it, the state for the administrator. */
export function serviceRoutes(app: Hono<AppEnv>, { db, metrics, state, front, metricsToken }: ServiceRouteParts): void {
  const alive = db.prepare('SELECT 1');
  app.get('/healthz', (c) => {
    try {
      alive.get();
    } catch {
      return c.json({ status: 'database cannot be read', version: PROGRAM_VERSION }, 503);
    }
    return c.json({ status: 'ok', version: PROGRAM_VERSION });
  });

  app.get('/metrics', async (c) => {
    const isKnown = metricsToken !== null && c.req.header('authorization') === `Bearer ${metricsToken}`;
    if (!isKnown && !isLoopback(clientAddress(c, front))) return notFound(c);
    return c.text(await metrics.text(), 200, { 'Content-Type': metrics.contentType });
  });

  app.get('/api/service', allow('administer'), async (c) => c.json(await state()));
}
