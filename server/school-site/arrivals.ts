/** Somebody who came from a site: who that is here, to which section its course belongs, and where to go. */
import { randomBytes } from 'node:crypto';

import * as v from 'valibot';

import type { Arrival, LaunchRefusal, User } from '#api';
import { parseJson } from '#core/json';
import { refuse, succeed, type Result } from '#core/problem';
import { loginFor } from '#core/roster';
import type { Audit } from '#server/audit';
import { hashToken, joinStaff, staffMay } from '#server/auth';
import { JOIN_ISSUED, type Db } from '#server/db';

import { ArrivedSchema, type Arrived } from './claims.ts';
import { siteStatements } from './rows.ts';
import type { SchoolSite, Sites } from './sites.ts';

const WAITS_MINUTES = 30;

/** Somebody who came, as the cookie of the browser finds it again. */
export interface Came {
  readonly site: SchoolSite;
  readonly arrived: Arrived;
  /** Who it is here; null where that is not known yet. */
  readonly user: Pick<User, 'id' | 'name' | 'role'> | null;
}

export interface Arrivals {
  /** Keeps an arrival for the browser that has the token. */
  keep(site: SchoolSite, arrived: Arrived): string;
  find(token: string): Came | null;
  /** Who came, with whom that is here. */
  came(site: SchoolSite, arrived: Arrived): Came;
  /** What comes next; a student whom the section's list knows by the mail address is connected on the way. */
  next(came: Came): Arrival['step'] | LaunchRefusal;
  /** This person is that account from now on. */
  connect(came: Came, userId: number): Result<null>;
  /** A new account for a student; gives its id. */
  add(came: Came): Result<number>;
  /** The course of the site is that section from now on. */
  chooseSection(came: Came, sectionId: number): Result<null>;
  /** Of the section that the course is, those that a choice names. */
  assignmentsOf(came: Came): readonly ChosenAssignment[];
}

export interface ChosenAssignment {
  readonly id: number;
  readonly number: string;
  readonly title: string;
  readonly dueAt: string;
}

export interface ArrivalParts {
  readonly db: Db;
  readonly sites: Sites;
  readonly audit: Audit;
  readonly now: () => Date;
}

const statements = (db: Db) => ({
  ...siteStatements(db),
  keep: db.prepare<[string, number, string, string]>(
    'INSERT INTO site_arrivals (token_hash, site_id, arrival_json, expires_at) VALUES (?, ?, ?, ?)',
  ),
  forget: db.prepare<[string]>('DELETE FROM site_arrivals WHERE expires_at < ?'),
  kept: db.prepare<[string, string], { siteId: number; json: string }>(
    'SELECT site_id AS siteId, arrival_json AS json FROM site_arrivals WHERE token_hash = ? AND expires_at >= ?',
  ),
  person: db.prepare<[number, string], Pick<User, 'id' | 'name' | 'role'>>(
    `SELECT users.id, users.name, users.role FROM site_people JOIN users ON users.id = site_people.user_id
     WHERE site_id = ? AND subject = ?`,
  ),
  role: db.prepare<[number], Pick<User, 'name' | 'role'>>('SELECT name, role FROM users WHERE id = ?'),
  section: db.prepare<[number, string], { id: number; name: string; courseId: number }>(
    `SELECT sections.id, sections.name, sections.course_id AS courseId FROM site_courses
     JOIN sections ON sections.id = site_courses.section_id JOIN courses ON courses.id = sections.course_id
     WHERE site_id = ? AND context_id = ? AND courses.archived_at IS NULL`,
  ),
  /** Students of a section whom no person of the site is yet. */
  unconnected: db.prepare<[number, number], { id: number; email: string | null }>(
    `SELECT users.id, users.email FROM enrollments JOIN users ON users.id = enrollments.user_id
     WHERE section_id = ? AND users.id NOT IN (SELECT user_id FROM site_people WHERE site_id = ?)`,
  ),
  enroll: db.prepare<[number, number]>(
    'INSERT INTO enrollments (section_id, user_id) VALUES (?, ?) ON CONFLICT DO NOTHING',
  ),
  teaches: db.prepare<[number, number]>(
    `SELECT 1 FROM course_staff WHERE course_id = ? AND user_id = ? AND ${staffMay('read-course')}`,
  ),
  logins: db.prepare<[], string>('SELECT login FROM users').pluck(),
  addStudent: db.prepare<[string, string, string | null, string]>(
    "INSERT INTO users (login, name, email, role, password_hash, created_at) VALUES (?, ?, ?, 'student', '', ?)",
  ),
  free: db.prepare<[number], { id: number; name: string; course: string }>(
    `SELECT sections.id, sections.name, courses.title AS course FROM sections
     JOIN courses ON courses.id = sections.course_id ${joinStaff('courses.id', 'manage-course')}
     WHERE course_staff.user_id = ? AND courses.archived_at IS NULL
       AND sections.id NOT IN (SELECT section_id FROM site_courses)
     ORDER BY courses.title, sections.name`,
  ),
  setSection: db.prepare<[number, string, number, string]>(
    'INSERT INTO site_courses (site_id, context_id, section_id, title) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING',
  ),
  services: db.prepare<[string, string | null, string | null, number, string]>(
    `UPDATE site_courses SET title = ?, members_url = coalesce(?, members_url),
       line_items_url = coalesce(?, line_items_url) WHERE site_id = ? AND context_id = ?`,
  ),
  assignments: db.prepare<[number], ChosenAssignment>(
    `SELECT assignments.id, exercises.number, exercises.title, assignments.due_at AS dueAt FROM assignments
     ${JOIN_ISSUED}
     WHERE section_id = ? AND withdrawn_at IS NULL ORDER BY opens_at, exercises.number`,
  ),
});

export function createArrivals({ db, sites, audit, now }: ArrivalParts): Arrivals {
  const of = statements(db);
  const sectionOf = ({ site, arrived }: Came) => of.section.get(site.id, arrived.context.id);

  /** Keeps what the site says of its services, and puts a student into the section. */
  const settle = db.transaction((came: Came, user: Pick<User, 'id' | 'role'>, sectionId: number) => {
    const { site, arrived } = came;
    of.services.run(arrived.context.title, arrived.membersUrl, arrived.lineItemsUrl, site.id, arrived.context.id);
    if (user.role === 'student') of.enroll.run(sectionId, user.id);
    const isOfSection = of.assignments.all(sectionId).some(({ id }) => id === arrived.assignmentId);
    if (arrived.lineItemUrl !== null && arrived.assignmentId !== null && isOfSection)
      of.setLineItem.run(arrived.assignmentId, site.id, arrived.lineItemUrl);
    return isOfSection ? arrived.assignmentId : null;
  });

  function stepOfStudent(came: Came): Arrival['step'] | LaunchRefusal {
    const { site, arrived, user } = came;
    const section = sectionOf(came);
    if (arrived.choosing !== null) return 'not-staff';
    if (section === undefined) return 'no-section';
    if (user !== null) {
      if (user.role !== 'student') return 'other-account';
      const assignmentId = settle(came, user, section.id);
      return { kind: 'done', to: assignmentId === null ? '/my' : `/my/${String(assignmentId)}` };
    }
    const unconnected = of.unconnected.all(section.id, site.id);
    const own = arrived.email === null ? [] : unconnected.filter(({ email }) => email?.toLowerCase() === arrived.email);
    const [known] = own;
    if (known !== undefined && own.length === 1) {
      of.connect.run(site.id, arrived.subject, known.id);
      return stepOfStudent({ ...came, user: of.person.get(site.id, arrived.subject) ?? null });
    }
    return { kind: 'account', mayBeNew: true };
  }

  function stepOfStaff(came: Came): Arrival['step'] | LaunchRefusal {
    const { arrived, user } = came;
    if (user === null) return { kind: 'account', mayBeNew: false };
    if (user.role === 'student') return 'other-account';
    const section = sectionOf(came);
    if (section === undefined) return { kind: 'section', sections: of.free.all(user.id) };
    // What the site says of roles opens nothing that is not theirs here.
    if (arrived.choosing !== null && of.teaches.get(section.courseId, user.id) === undefined) return 'not-staff';
    const assignmentId = settle(came, user, section.id);
    if (arrived.choosing === null)
      return { kind: 'done', to: assignmentId === null ? '/desk' : `/assignments/${String(assignmentId)}` };
    return {
      kind: 'assignments',
      section: section.name,
      several: arrived.choosing.several,
      assignments: of.assignments.all(section.id).map(({ id, number, title }) => ({ id, number, title })),
    };
  }

  const note = (
    { site, arrived }: Came,
    by: Pick<User, 'id' | 'name'>,
    what: string,
    courseId: number | null,
  ): void => {
    audit.note({
      by,
      courseId,
      what,
      subject: `${site.name}, ${arrived.context.title}`,
      after: { subject: arrived.subject },
    });
  };

  const cameOf = (site: SchoolSite, arrived: Arrived): Came => ({
    site,
    arrived,
    user: of.person.get(site.id, arrived.subject) ?? null,
  });

  return {
    came: cameOf,
    keep(site, arrived) {
      const token = randomBytes(32).toString('base64url');
      const time = now();
      of.forget.run(time.toISOString());
      const until = new Date(time.getTime() + WAITS_MINUTES * 60_000).toISOString();
      of.keep.run(hashToken(token), site.id, JSON.stringify(arrived), until);
      return token;
    },
    find(token) {
      const kept = of.kept.get(hashToken(token), now().toISOString());
      const site = kept === undefined ? null : sites.find(kept.siteId);
      const json = kept === undefined ? null : parseJson(kept.json);
      if (site === null || json === null || !json.ok) return null;
      return cameOf(site, v.parse(ArrivedSchema, json.value));
    },
    next: (came) => (came.arrived.role === 'student' ? stepOfStudent(came) : stepOfStaff(came)),
    connect: (came, userId) =>
      db.transaction((): Result<null> => {
        const user = of.role.get(userId);
        if (user === undefined) return refuse('not-found', 'There is no such account.');
        const isStaff = user.role !== 'student';
        if (isStaff !== (came.arrived.role === 'staff'))
          return refuse(
            'other-role',
            isStaff
              ? 'You learn in this course of the site, and this account teaches. Sign in with one of a student.'
              : 'You teach in this course of the site, and this account is that of a student.',
          );
        if (of.connect.run(came.site.id, came.arrived.subject, userId).changes === 0)
          return refuse('connected-already', 'This account belongs to somebody else of the site already.');
        note(came, { id: userId, name: user.name }, "connected with the school's site", null);
        return succeed(null);
      })(),
    add: (came) =>
      db.transaction((): Result<number> => {
        const section = sectionOf(came);
        if (came.arrived.role !== 'student' || section === undefined || came.user !== null)
          return refuse(
            'connected-already',
            'Nobody new is expected here. Open the link on the site of your school again.',
          );
        const { name, email, subject } = came.arrived;
        const taken = new Set(of.logins.all().map((login) => login.toLowerCase()));
        const login = loginFor(name, (one) => taken.has(one));
        const userId = Number(of.addStudent.run(login, name, email, now().toISOString()).lastInsertRowid);
        of.connect.run(came.site.id, subject, userId);
        of.enroll.run(section.id, userId);
        note(came, { id: userId, name }, "joined from the school's site", section.courseId);
        return succeed(userId);
      })(),
    chooseSection: (came, sectionId) =>
      db.transaction((): Result<null> => {
        const { site, arrived, user } = came;
        const section = user === null ? undefined : of.free.all(user.id).find(({ id }) => id === sectionId);
        if (user === null || section === undefined)
          return refuse('not-found', 'This section is not yours, or another course of a site has it already.');
        of.setSection.run(site.id, arrived.context.id, sectionId, arrived.context.title);
        note(came, user, `section ${section.name} connected with the school's site`, sectionOf(came)?.courseId ?? null);
        return succeed(null);
      })(),
    assignmentsOf(came) {
      const section = sectionOf(came);
      if (section === undefined || came.user === null) return [];
      return of.teaches.get(section.courseId, came.user.id) === undefined ? [] : of.assignments.all(section.id);
    },
  };
}
