import type { Hono } from 'hono';
import { RateLimiterMemory } from 'rate-limiter-flexible';

import {
  allow,
  idParam,
  notFound,
  refuseProblem,
  refuseWith,
  takesRoom,
  userOf,
  zipResponse,
  type AppEnv,
} from '#server/http';

import type { TermArchives } from './term.ts';

/** Archives that one person may ask for: each copies the database. */
const ARCHIVES = { points: 6, duration: 3600 } as const;

/** The archive of a course, for those who manage it. */
export function termRoutes(app: Hono<AppEnv>, archives: TermArchives): void {
  const asked = new RateLimiterMemory(ARCHIVES);
  app.get('/api/courses/:id/archive.zip', allow('manage-course'), async (c) => {
    if (!(await takesRoom(asked, userOf(c).id)))
      return refuseWith(c, 'too-many-tries', 'Archives were made several times within this hour. Wait a while.');
    const made = await archives.make(idParam(c) ?? 0, userOf(c));
    if (made === null) return notFound(c);
    if (!made.ok) return refuseProblem(c, made.problem);
    return zipResponse(made.value.name, made.value.content);
  });
}
