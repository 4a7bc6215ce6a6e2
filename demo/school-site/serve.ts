import { serve } from '@hono/node-server';

import { createStandIn } from './app.ts';

export interface ServedStandIn {
  readonly origin: string;
  close(): void;
}

/** Starts the stand-in on a port of this machine, beside a Zorvet that is reached at an address. */
export async function serveStandIn(port: number, tool: string, hostname = '127.0.0.1'): Promise<ServedStandIn> {
  const origin = `http://localhost:${String(port)}`;
  const { app } = await createStandIn({ origin, tool });
  const server = serve({ fetch: app.fetch, port, hostname });
  server.on('error', (error: NodeJS.ErrnoException) => {
    process.stderr.write(`The stand-in of a school's site could not start on port ${String(port)}: ${error.message}\n`);
  });
  return {
    origin,
    close: () => {
      server.close();
    },
  };
}
