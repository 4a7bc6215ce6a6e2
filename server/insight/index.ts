/** What the attempts of a class say together. */
import type { Context, Hono } from 'hono';

import { allow, idParam, notFound, userOf, type AppEnv } from '#server/http';

import type { Insights } from './insights.ts';

export { createInsights, type Insights } from './insights.ts';

/** The section that a request names, or null for all. */
const sectionOf = (c: Context): number | null => {
  const asked = Number(c.req.query('section'));
  return Number.isSafeInteger(asked) && asked > 0 ? asked : null;
};

export function insightRoutes(app: Hono<AppEnv>, insights: Insights): void {
  app.get('/api/courses/:id/insight', allow('read-course'), (c) => {
    const found = insights.of(idParam(c) ?? 0, userOf(c).id, sectionOf(c));
    return found === null ? notFound(c) : c.json(found);
  });
  app.get('/api/courses/:id/insight/:exerciseId', allow('read-course'), (c) => {
    const found = insights.ofExercise(idParam(c) ?? 0, userOf(c).id, idParam(c, 'exerciseId') ?? 0, sectionOf(c));
    return found === null ? notFound(c) : c.json(found);
  });
  app.get('/api/courses/:id/wall', allow('read-course'), (c) => {
    const found = insights.wall(idParam(c) ?? 0, userOf(c).id);
    return found === null ? notFound(c) : c.json(found);
  });
}
