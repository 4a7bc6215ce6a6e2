import type { Hono } from 'hono';

import { GroupReviewSchema, NewCollectedRemarkSchema, NewReplySchema, ReviewChangeSchema } from '#api';
import { allow, idParam, jsonBody, notFound, refuseProblem, userOf, type AppEnv } from '#server/http';

import type { Reviews } from './reviews.ts';

export function reviewRoutes(app: Hono<AppEnv>, reviews: Reviews): void {
  app.post('/api/attempts/:id/review', allow('review'), jsonBody(ReviewChangeSchema), async (c) => {
    const result = await reviews.change(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    return result.ok ? c.json(result.value) : refuseProblem(c, result.problem);
  });

  app.post('/api/assignments/:id/reviews', allow('review'), jsonBody(GroupReviewSchema), async (c) => {
    const result = await reviews.changeGroup(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    return result.ok ? c.json({ changed: result.value }) : refuseProblem(c, result.problem);
  });

  app.post('/api/attempts/:id/replies', allow('work'), jsonBody(NewReplySchema), (c) => {
    const result = reviews.reply(idParam(c) ?? 0, userOf(c), c.req.valid('json'));
    return result.ok ? c.json({}, 201) : refuseProblem(c, result.problem);
  });

  app.get('/api/courses/:id/remarks', allow('review'), (c) => {
    const remarks = reviews.collectionOf(idParam(c) ?? 0, userOf(c).id);
    return remarks === null ? notFound(c) : c.json({ remarks });
  });

  app.post('/api/courses/:id/remarks', allow('review'), jsonBody(NewCollectedRemarkSchema), (c) => {
    const remarks = reviews.addToCollection(idParam(c) ?? 0, userOf(c).id, c.req.valid('json').text);
    return remarks === null ? notFound(c) : c.json({ remarks }, 201);
  });

  app.delete('/api/courses/:id/remarks/:remark', allow('review'), (c) => {
    const remarks = reviews.removeFromCollection(idParam(c) ?? 0, userOf(c).id, idParam(c, 'remark') ?? 0);
    return remarks === null ? notFound(c) : c.json({ remarks });
  });
}
