/** The grades of an assignment, sent to the gradebook of the school's site. */
import PQueue from 'p-queue';

import type { Answers, Sending, SentGrades, User } from '#api';
import type { GradebookCell } from '#core/gradebook';
import { refuse, succeed, type Problem, type Result } from '#core/problem';
import { writeTable } from '#core/table';
import type { Audit } from '#server/audit';
import { JOIN_ISSUED, type Db } from '#server/db';
import type { Gradebooks } from '#server/gradebook';

import { roleOf } from './claims.ts';
import { siteStatements } from './rows.ts';
import type { Member, SiteServices } from './services.ts';
import type { SchoolSite, Sites } from './sites.ts';

/** Scores under way at once: a site is not flooded, and a class does not take minutes. */
const AT_ONCE = 4;
/** Scores that are told apart here may be the same there; less than a hundredth of a point is no change. */
const SAME_POINTS = 0.005;

export interface Passback {
  /** What a site knows of the grades of an assignment; null for whoever does not manage its course. */
  stateOf(assignmentId: number, userId: number): SentGrades | null;
  /** Sends what is new or has changed. */
  send(assignmentId: number, by: User): Promise<Result<Sending>>;
  /** Name of the site whose course a section is, or null. */
  siteOf(sectionId: number): string | null;
  /** The students of that course as a list for the roster. */
  classList(sectionId: number): Promise<Result<{ readonly text: string; readonly students: number }>>;
}

export interface PassbackParts {
  readonly db: Db;
  readonly sites: Sites;
  readonly services: SiteServices;
  readonly gradebooks: Pick<Gradebooks, 'of'>;
  readonly audit: Audit;
  readonly now: () => Date;
}

interface SectionLink {
  readonly siteId: number;
  readonly membersUrl: string | null;
  readonly lineItemsUrl: string | null;
}

interface AssignmentFacts {
  readonly courseId: number;
  readonly sectionId: number;
  readonly number: string;
  readonly title: string;
  readonly dueAt: string;
  readonly lateUntil: string | null;
  readonly answers: Answers;
}

const statements = (db: Db) => ({
  ...siteStatements(db),
  assignment: db.prepare<[number], AssignmentFacts>(
    `SELECT sections.course_id AS courseId, sections.id AS sectionId, exercises.number, exercises.title, due_at AS dueAt,
            late_until AS lateUntil, answers
     FROM assignments JOIN sections ON sections.id = assignments.section_id
     ${JOIN_ISSUED} WHERE assignments.id = ?`,
  ),
  link: db.prepare<[number], SectionLink>(
    `SELECT site_id AS siteId, members_url AS membersUrl, line_items_url AS lineItemsUrl
     FROM site_courses WHERE section_id = ?`,
  ),
  lineItem: db
    .prepare<[number, number], string>('SELECT url FROM site_line_items WHERE assignment_id = ? AND site_id = ?')
    .pluck(),
  dropLineItem: db.prepare<[number]>('DELETE FROM site_line_items WHERE assignment_id = ?'),
  dropSent: db.prepare<[number]>('DELETE FROM sent_grades WHERE assignment_id = ?'),
  sent: db.prepare<[number], { studentId: number; score: number; at: string }>(
    'SELECT student_id AS studentId, score, sent_at AS "at" FROM sent_grades WHERE assignment_id = ?',
  ),
  setSent: db.prepare<[number, number, number, string]>(
    `INSERT INTO sent_grades (assignment_id, student_id, score, sent_at) VALUES (?, ?, ?, ?)
     ON CONFLICT DO UPDATE SET score = excluded.score, sent_at = excluded.sent_at`,
  ),
  /** Students who can hand in for longer than the others. */
  extended: db
    .prepare<[number, string], number>('SELECT student_id FROM extensions WHERE assignment_id = ? AND due_at > ?')
    .pluck(),
  people: db.prepare<[number], { userId: number; subject: string }>(
    'SELECT user_id AS userId, subject FROM site_people WHERE site_id = ?',
  ),
  mails: db.prepare<[number], { id: number; email: string }>(
    `SELECT users.id, users.email FROM enrollments JOIN users ON users.id = enrollments.user_id
     WHERE section_id = ? AND users.email IS NOT NULL`,
  ),
});

/** What counts of a student: nothing as long as something is open, or excused. */
const countsOf = ({ state, score }: GradebookCell): number | null =>
  state === 'graded' || state === 'missing' ? score : null;

const isLearner = ({ status, roles }: Member): boolean => status === 'Active' && roleOf(roles) === 'student';

const NOT_CONNECTED = "This section is not connected with a course of the school's site. Open it once from there.";

export function createPassback({ db, sites, services, gradebooks, audit, now }: PassbackParts): Passback {
  const of = statements(db);
  const linkOf = (sectionId: number): (SectionLink & { readonly site: SchoolSite }) | null => {
    const link = of.link.get(sectionId);
    const site = link === undefined ? null : sites.find(link.siteId);
    return link === undefined || site === null ? null : { ...link, site };
  };

  function stateOf(assignmentId: number, userId: number): SentGrades | null {
    const facts = of.assignment.get(assignmentId);
    const found = facts === undefined ? null : gradebooks.of(facts.courseId, userId, facts.sectionId);
    if (facts === undefined || found === null) return null;
    const link = linkOf(facts.sectionId);
    const sent = new Map(of.sent.all(assignmentId).map(({ studentId, ...what }) => [studentId, what]));
    const known = new Set(link === null ? [] : of.people.all(link.siteId).map((person) => person.userId));
    const time = now().toISOString();
    const isOpen = (facts.lateUntil ?? facts.dueAt) > time;
    const extended = new Set(of.extended.all(assignmentId, time));
    const stateFor = (id: number, cell: GradebookCell | undefined): SentGrades['students'][number]['state'] => {
      const score = cell === undefined ? null : countsOf(cell);
      const before = sent.get(id);
      if (score === null) return cell?.state === 'to-review' ? 'to-review' : 'nothing';
      if (before !== undefined && Math.abs(before.score - score) < SAME_POINTS) return 'same';
      if (facts.answers !== 'at-once' && (isOpen || extended.has(id))) return 'open';
      return known.has(id) ? 'to-send' : 'not-connected';
    };
    return {
      site: link?.site.name ?? null,
      students: found.book.rows.map(({ id, name, cells }) => {
        const cell = cells.get(assignmentId);
        return {
          id,
          name,
          score: cell === undefined ? null : countsOf(cell),
          sent: sent.get(id) ?? null,
          state: stateFor(id, cell),
        };
      }),
    };
  }

  /** Where the grades of an assignment go; a column is made where there is none. */
  async function columnOf(
    assignmentId: number,
    { number, title, dueAt }: AssignmentFacts,
    { site, lineItemsUrl }: SectionLink & { readonly site: SchoolSite },
  ): Promise<Result<string>> {
    const known = of.lineItem.get(assignmentId, site.id);
    if (known !== undefined) return succeed(known);
    if (lineItemsUrl === null)
      return refuse(
        'site-refused',
        `${site.name} does not let this server write grades of the course. Allow it there, and open the course once from there.`,
      );
    const made = await services.addLineItem(site, lineItemsUrl, {
      label: `${number} ${title}`,
      resourceId: String(assignmentId),
      dueAt,
    });
    if (made.ok) of.setLineItem.run(assignmentId, site.id, made.value);
    return made;
  }

  /** Why nobody at the site is known for a student. */
  const unknownThere = (site: SchoolSite, hasMail: boolean): string =>
    hasMail
      ? `The class list of this course at ${site.name} has no student with this mail address.`
      : `No mail address is known here by which ${site.name} could tell who this is. Add it with a list of students, or let a link of ${site.name} be opened once.`;

  /** Connects students who never came from the site, but whose mail address is that of one member alone. */
  function connectByMail(sectionId: number, siteId: number, members: readonly Member[]): void {
    const learners = members.filter(isLearner);
    for (const { id, email } of of.mails.all(sectionId)) {
      const [member, other] = learners.filter((one) => one.email?.toLowerCase() === email.toLowerCase());
      if (member !== undefined && other === undefined) of.connect.run(siteId, member.user_id, id);
    }
  }

  return {
    stateOf,
    siteOf: (sectionId) => linkOf(sectionId)?.site.name ?? null,
    async classList(sectionId) {
      const link = linkOf(sectionId);
      if (link === null) return refuse('not-connected', NOT_CONNECTED);
      if (link.membersUrl === null)
        return refuse('site-refused', `${link.site.name} does not let this server read its class list.`);
      const members = await services.members(link.site, link.membersUrl);
      if (!members.ok) return members;
      const students = members.value.filter(isLearner);
      const rows = students.map((one) => [
        one.name ?? [one.given_name, one.family_name].flatMap((part) => part ?? []).join(' '),
        one.email ?? '',
      ]);
      return succeed({ text: writeTable([['Name', 'Email'], ...rows], '\t'), students: students.length });
    },
    async send(assignmentId, by) {
      const facts = of.assignment.get(assignmentId);
      const before = stateOf(assignmentId, by.id);
      if (facts === undefined || before === null) return refuse('not-found', 'There is no such assignment.');
      const link = linkOf(facts.sectionId);
      if (link === null) return refuse('not-connected', NOT_CONNECTED);
      const { site, membersUrl } = link;
      let unread: Problem | null = null;
      if (membersUrl !== null && before.students.some(({ state }) => state === 'not-connected')) {
        const members = await services.members(site, membersUrl);
        if (members.ok) connectByMail(facts.sectionId, site.id, members.value);
        else unread = members.problem;
      }
      const column = await columnOf(assignmentId, facts, link);
      if (!column.ok) return column;
      const subjects = new Map(of.people.all(site.id).map(({ userId, subject }) => [userId, subject]));
      const toSend = (stateOf(assignmentId, by.id)?.students ?? []).filter(({ state }) => state === 'to-send');
      const queue = new PQueue({ concurrency: AT_ONCE });
      const failed: { readonly name: string; readonly problem: Problem }[] = [];
      const sent: { readonly name: string; readonly score: number }[] = [];
      await queue.addAll(
        toSend.map(({ id, name, score }) => async () => {
          const subject = subjects.get(id);
          if (score === null || subject === undefined) return;
          const at = now().toISOString();
          const done = await services.sendScore(site, column.value, { subject, score, at });
          if (!done.ok) {
            failed.push({ name, problem: done.problem });
            return;
          }
          of.setSent.run(assignmentId, id, score, at);
          sent.push({ name, score });
        }),
      );
      // The next sending makes a new column, and sends to it what the old one had.
      if (failed.some(({ problem }) => problem.code === 'not-there')) {
        of.dropLineItem.run(assignmentId);
        of.dropSent.run(assignmentId);
      }
      if (sent.length > 0)
        audit.note({
          by,
          courseId: facts.courseId,
          what: `grades sent to ${site.name}`,
          subject: facts.number,
          after: sent,
        });
      const grades = stateOf(assignmentId, by.id) ?? before;
      const withMail = new Set(of.mails.all(facts.sectionId).map(({ id }) => id));
      const unknown = grades.students.filter(({ state }) => state === 'not-connected');
      return succeed({
        sent: sent.length,
        failed: [
          ...failed.map(({ name, problem }) => ({ name, why: problem.message })),
          ...unknown.map(({ id, name }) => ({ name, why: unread?.message ?? unknownThere(site, withMail.has(id)) })),
        ],
        grades,
      });
    },
  };
}
