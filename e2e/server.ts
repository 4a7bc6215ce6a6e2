import { inject } from 'vitest';

/** Address of the server that this worker of the browser tests has to itself. */
export function ownServer(): string {
  const urls = inject('baseUrls');
  return urls[(Number(process.env['VITEST_POOL_ID'] ?? 1) - 1) % urls.length] ?? '';
}
