/** Mails people what is new, now and then; what could not be sent is sent the next time. */
import { setImmediate as turn } from 'node:timers/promises';

import type { Logger } from 'pino';

import type { User } from '#api';
import type { Db } from '#server/db';

import type { News, Told } from './news.ts';
import type { Letter, PostOffice } from './post-office.ts';

export interface MailRound {
  start(): void;
  stop(): void;
  /** Goes round once; gives how many letters were sent. */
  round(): Promise<number>;
}

export interface MailRoundParts {
  readonly db: Db;
  readonly news: Pick<News, 'since'>;
  readonly office: PostOffice;
  /** The address that people type; null where nobody has set it. */
  readonly publicUrl: URL | null;
  readonly log: Logger;
  readonly now: () => Date;
}

const EVERY_MS = 5 * 60_000;
/** Others are served after so many people. */
const AT_ONCE = 20;
/** After so many letters in a row that were not taken, the rest waits for the next round. */
const MOST_FAILURES = 3;

interface Reader {
  readonly id: number;
  readonly name: string;
  readonly email: string;
  readonly role: User['role'];
  readonly mailedUntil: string;
}

const subjectOf = (items: readonly Told[]): string => {
  const [first] = items;
  return items.length === 1 && first !== undefined
    ? first.text.replace(/\.$/, '')
    : `${String(items.length)} things are new`;
};

/** The letter about what is new, the newest first. */
export function letterOf(
  { name, email }: Pick<Reader, 'name' | 'email'>,
  items: readonly Told[],
  publicUrl: URL | null,
): Letter {
  const lines = items.map(({ text, to }) =>
    publicUrl === null ? `- ${text}` : `- ${text}\n  ${new URL(to, publicUrl).href}`,
  );
  return {
    to: { name, address: email },
    subject: subjectOf(items),
    text: [
      `Hello ${name},`,
      '',
      ...lines,
      '',
      'You get this from Zorvet because your course is there. Behind the bell on the page you can end these letters.',
      '',
    ].join('\n'),
  };
}

export function createMailRound({ db, news, office, publicUrl, log, now }: MailRoundParts): MailRound {
  const readers = db.prepare<[], Reader>(
    `SELECT id, name, email, role, coalesce(mailed_until, created_at) AS mailedUntil FROM users
     WHERE email IS NOT NULL AND email <> '' AND wants_mail = 1 ORDER BY id`,
  );
  const mailed = db.prepare<[string, number]>('UPDATE users SET mailed_until = ? WHERE id = ?');
  let timer: ReturnType<typeof setInterval> | undefined;
  let isStopped = false;
  let running: Promise<number> | null = null;

  async function goRound(): Promise<number> {
    let sent = 0;
    let failures = 0;
    for (const [i, reader] of readers.all().entries()) {
      if (i % AT_ONCE === AT_ONCE - 1) await turn();
      if (isStopped || failures >= MOST_FAILURES) break;
      const until = now().toISOString();
      const items = news.since(reader, new Date(reader.mailedUntil));
      if (items.length === 0) continue;
      try {
        await office.send(letterOf(reader, items, publicUrl));
        // Only what was taken is not told again.
        mailed.run(until, reader.id);
        sent += 1;
        failures = 0;
      } catch (error) {
        failures += 1;
        log.warn({ error: error instanceof Error ? error.message : String(error) }, 'a letter was not taken');
      }
    }
    return sent;
  }

  const round = (): Promise<number> => {
    running ??= goRound().finally(() => {
      running = null;
    });
    return running;
  };
  const look = (): void => {
    round().catch((error: unknown) => {
      log.error({ error: error instanceof Error ? error.stack : String(error) }, 'no mail was sent');
    });
  };
  return {
    round,
    start() {
      timer = setInterval(look, EVERY_MS);
      timer.unref();
      look();
    },
    stop() {
      isStopped = true;
      clearInterval(timer);
      office.close();
    },
  };
}
