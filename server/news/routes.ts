import type { Hono } from 'hono';

import { may, WantsMailSchema, type News as NewsAnswer, type User } from '#api';
import type { Db } from '#server/db';
import { allow, jsonBody, refuseWith, userOf, type AppEnv } from '#server/http';

import type { News } from './news.ts';

export interface NewsRouteParts {
  readonly db: Db;
  readonly news: News;
  readonly now: () => Date;
  /** Whether this server sends mail. */
  readonly isMailSent: boolean;
}

/** By the address in the list, the school's site knows students again: they do not take that of somebody else. */
const mayChange = ({ role }: User): boolean => !may(role, 'work');

/** What is new for who is signed in. */
export function newsRoutes(app: Hono<AppEnv>, { db, news, isMailSent, now }: NewsRouteParts): void {
  const mailOf = db.prepare<[number], { address: string | null; wanted: 0 | 1 }>(
    'SELECT email AS address, wants_mail AS wanted FROM users WHERE id = ?',
  );
  const move = db.prepare<[string, number]>('UPDATE users SET email = ? WHERE id = ?');
  const want = db.prepare<[0 | 1, string, number]>('UPDATE users SET wants_mail = ?, mailed_until = ? WHERE id = ?');

  app.get('/api/news', allow('signed-in'), (c) => {
    const user = userOf(c);
    const mail = mailOf.get(user.id);
    return c.json({
      items: [...news.of(user)],
      mail: {
        isSent: isMailSent,
        address: mail?.address ?? null,
        mayChange: mayChange(user),
        wanted: mail?.wanted === 1,
      },
    } satisfies NewsAnswer);
  });

  app.post('/api/news/seen', allow('signed-in'), (c) => {
    news.seen(userOf(c).id);
    return c.json({});
  });

  app.put('/api/news/mail', allow('signed-in'), jsonBody(WantsMailSchema), (c) => {
    const { wanted, address } = c.req.valid('json');
    const user = userOf(c);
    if (address !== undefined && !mayChange(user))
      return refuseWith(c, 'not-allowed', 'Your mail address stands in the list of your section; ask your instructor.');
    if (address !== undefined) move.run(address, user.id);
    // Whoever wants mail again is not told all that was new meanwhile.
    want.run(wanted ? 1 : 0, now().toISOString(), user.id);
    return c.json({});
  });
}
