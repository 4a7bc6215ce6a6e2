import type { Context, Hono } from 'hono';

import { GroupReviewSchema, NewCollectedRemarkSchema, NewReplySchema, ReviewChangeSchema } from '#api';
import type { Problem } from '#core/problem';
import { allow, idParam, jsonBody, notFound, refuseWith, userOf, type AppEnv } from '#server/http';

import type { Reviews } from './reviews.ts';

const STATUS: Readonly<Record<string, 404 | 409>> = {
  'not-found': 404,
  'review-changed': 409,
  'not-measured': 409,
  'no-such-line': 409,
  'too-many-remarks': 409,
  'too-many-replies': 409,
};

const refused = (c: Context<AppEnv>, { code, message }: Problem): Response =>
  refuseWith(c, STATUS[code] ?? 400, code, message);

export function reviewRoutes(app: Hono<AppEnv>, reviews: Reviews): void {
  app.post('/api/attempts/:id/review', allow('instructor'), jsonBody(ReviewChangeSchema), async (c) => {
    const result = await reviews.change(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    return result.ok ? c.json(result.value) : refused(c, result.problem);
  });

  app.post('/api/assignments/:id/reviews', allow('instructor'), jsonBody(GroupReviewSchema), async (c) => {
    const result = await reviews.changeGroup(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    return result.ok ? c.json({ changed: result.value }) : refused(c, result.problem);
  });

  app.post('/api/attempts/:id/replies', allow('student'), jsonBody(NewReplySchema), (c) => {
    const result = reviews.reply(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    return result.ok ? c.json({}, 201) : refused(c, result.problem);
  });

  app.get('/api/courses/:id/remarks', allow('instructor'), (c) => {
    const remarks = reviews.collectionOf(idParam(c) ?? 0, userOf(c).id);
    return remarks === null ? notFound(c) : c.json({ remarks });
  });

  app.post('/api/courses/:id/remarks', allow('instructor'), jsonBody(NewCollectedRemarkSchema), (c) => {
    const remarks = reviews.addToCollection(idParam(c) ?? 0, userOf(c).id, c.req.valid('json').text);
    return remarks === null ? notFound(c) : c.json({ remarks }, 201);
  });

  app.delete('/api/courses/:id/remarks/:remark', allow('instructor'), (c) => {
    const remarks = reviews.removeFromCollection(idParam(c) ?? 0, userOf(c).id, idParam(c, 'remark') ?? 0);
    return remarks === null ? notFound(c) : c.json({ remarks });
  });
}
