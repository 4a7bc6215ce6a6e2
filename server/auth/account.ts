/** Accounts: the first one, first sign-ins by a code, own passwords, joining a section. */
import { randomInt } from 'node:crypto';

import type { ChangePassword, CodeSignIn, Join, JoinInfo, Setup } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { isTimeZone } from '#core/time';
import type { Audit } from '#server/audit';
import type { Db } from '#server/db';

import type { SignInCodes } from './codes.ts';
import { hashPassword, newPassword, verifyPassword } from './password.ts';
import { checkPassword } from './policy.ts';
import type { Sessions } from './session.ts';

export interface Accounts {
  /** Whether nobody has an account yet. */
  isEmpty(): boolean;
  /** Makes the first account, which teaches the first course; gives its id. */
  setUp(setup: Setup): Promise<Result<number>>;
  /** A new password by a code; gives whose. All other sessions of the account end. */
  signInByCode(input: CodeSignIn): Promise<Result<number>>;
  /** Another password; all sessions of the account end. */
  changePassword(userId: number, input: ChangePassword): Promise<Result<null>>;
  /** The section that a join code leads to, or null. */
  joinInfo(code: string): JoinInfo | null;
  /** A new student in a section; gives the id. */
  join(code: string, input: Join): Promise<Result<number>>;
}

export interface AccountsParts {
  readonly db: Db;
  readonly codes: SignInCodes;
  readonly sessions: Pick<Sessions, 'endAll'>;
  readonly audit: Audit;
  readonly now: () => Date;
  /** What whoever makes the first account has to know. */
  readonly setupCode: string;
}

/** A code for the console: groups of digits. */
export const newSetupCode = (): string =>
  Array.from({ length: 3 }, () => String(randomInt(10_000)).padStart(4, '0')).join('-');

/** A code for the board of a classroom. */
export const newJoinCode = (): string => newPassword().slice(0, 9);

const loginTaken = (login: string): Result<never> =>
  refuse('login-taken', `Somebody signs in as "${login}" already. Choose another sign-in name.`);

const wrongCode = (): Result<never> =>
  refuse('wrong-code', 'This code is none, was used, or is too old. Ask your instructor for a new one.');

export function createAccounts({ db, codes, sessions, audit, now, setupCode }: AccountsParts): Accounts {
  const anybody = db.prepare('SELECT 1 FROM users LIMIT 1');
  const taken = db.prepare<[string]>('SELECT 1 FROM users WHERE login = ?');
  const find = db.prepare<[number], { login: string; name: string; passwordHash: string }>(
    'SELECT login, name, password_hash AS passwordHash FROM users WHERE id = ?',
  );
  const addUser = db.prepare<[string, string, string, string, string, 0 | 1]>(
    'INSERT INTO users (login, name, role, password_hash, created_at, administers) VALUES (?, ?, ?, ?, ?, ?)',
  );
  const setPassword = db.prepare<[string, number]>('UPDATE users SET password_hash = ? WHERE id = ?');
  const sectionOf = db.prepare<[string], JoinInfo & { id: number; courseId: number }>(
    `SELECT sections.id, courses.id AS courseId, courses.title AS course, sections.name AS section, courses.school
     FROM sections JOIN courses ON courses.id = sections.course_id
     WHERE join_code = ? AND courses.archived_at IS NULL`,
  );
  const renew = db.transaction((userId: number, hash: string) => {
    setPassword.run(hash, userId);
    codes.drop(userId);
    sessions.endAll(userId);
  });

  return {
    isEmpty: () => anybody.get() === undefined,
    async setUp({ code, name, login, password, school, course, section, timeZone }) {
      if (code.replaceAll(/\D/g, '') !== setupCode.replaceAll(/\D/g, ''))
        return refuse('wrong-code', 'This is not the code that the server printed when it started last.');
      if (!isTimeZone(timeZone)) return refuse('bad-input', `"${timeZone}" is no time zone. Choose one of the list.`);
      const sound = checkPassword(password, { login, name });
      if (!sound.ok) return sound;
      const hash = await hashPassword(password);
      return db.transaction((): Result<number> => {
        if (anybody.get() !== undefined)
          return refuse('set-up-already', 'The first account was made meanwhile. Sign in with it.');
        const time = now().toISOString();
        const userId = Number(addUser.run(login, name, 'instructor', hash, time, 1).lastInsertRowid);
        const courseId = Number(
          db.prepare('INSERT INTO courses (title, school, time_zone) VALUES (?, ?, ?)').run(course, school, timeZone)
            .lastInsertRowid,
        );
        db.prepare("INSERT INTO course_staff (course_id, user_id, role) VALUES (?, ?, 'instructor')").run(
          courseId,
          userId,
        );
        db.prepare('INSERT INTO sections (course_id, name) VALUES (?, ?)').run(courseId, section);
        audit.note({ by: { id: userId, name }, courseId, what: 'first account', subject: login });
        return succeed(userId);
      })();
    },
    async signInByCode({ code, password }) {
      const userId = codes.userOf(code);
      const user = userId === null ? undefined : find.get(userId);
      if (userId === null || user === undefined) return wrongCode();
      const sound = checkPassword(password, user);
      if (!sound.ok) return sound;
      const hash = await hashPassword(password);
      // Somebody else may have used it meanwhile.
      if (codes.userOf(code) !== userId) return wrongCode();
      renew(userId, hash);
      return succeed(userId);
    },
    async changePassword(userId, { before, password }) {
      const user = find.get(userId);
      if (user === undefined || !(await verifyPassword(before, user.passwordHash)))
        return refuse('wrong-password', 'This is not your password until now. Type it again.');
      const sound = checkPassword(password, user);
      if (!sound.ok) return sound;
      renew(userId, await hashPassword(password));
      return succeed(null);
    },
    joinInfo(code) {
      const found = sectionOf.get(code);
      return found === undefined ? null : { course: found.course, section: found.section, school: found.school };
    },
    async join(code, { name, login, password }) {
      const sound = checkPassword(password, { login, name });
      if (!sound.ok) return sound;
      const hash = await hashPassword(password);
      return db.transaction((): Result<number> => {
        const section = sectionOf.get(code);
        if (section === undefined)
          return refuse('wrong-code', 'This link does not lead to a section any more. Ask your instructor.');
        if (taken.get(login) !== undefined) return loginTaken(login);
        const userId = Number(addUser.run(login, name, 'student', hash, now().toISOString(), 0).lastInsertRowid);
        db.prepare('INSERT INTO enrollments (section_id, user_id) VALUES (?, ?)').run(section.id, userId);
        audit.note({ by: { id: userId, name }, courseId: section.courseId, what: 'joined', subject: section.section });
        return succeed(userId);
      })();
    },
  };
}
