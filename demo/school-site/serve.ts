import { once } from 'node:events';
import type { AddressInfo } from 'node:net';

import { serve } from '@hono/node-server';
import { Hono } from 'hono';

import { createStandIn } from './app.ts';

export interface ServedStandIn {
  readonly origin: string;
  close(): void;
}

export interface StandInPlace {
  /** 0 for any that is free. */
  readonly port: number;
  /** As browsers reach it: by the same name as Zorvet, for they are one site to a browser then. */
  readonly hostname: 'localhost' | '127.0.0.1';
}

/** Starts the stand-in on this machine, beside a Zorvet that is reached at an address. Throws where the port is taken. */
export async function serveStandIn({ port, hostname }: StandInPlace, tool: string): Promise<ServedStandIn> {
  // Its address is known when it listens, and it has to tell it.
  const root = new Hono();
  const server = serve({ fetch: root.fetch, port, hostname: '127.0.0.1' });
  await once(server, 'listening');
  const origin = `http://${hostname}:${String((server.address() as AddressInfo).port)}`;
  const { app } = await createStandIn({ origin, tool });
  root.route('/', app);
  return {
    origin,
    close: () => {
      server.close();
    },
  };
}
