/** The news of a person, put into words. */
import { addDays, addHours } from 'date-fns';

import { may, type NewsItem, type NewsKind, type User } from '#api';
import { spokenIn } from '#core/time';
import type { Db } from '#server/db';

import {
  newsStatements,
  type AssignmentFact,
  type AttemptFact,
  type ClassFact,
  type DueFact,
  type ExtensionFact,
  type Span,
  type StageFact,
} from './rows.ts';

/** Older things are no news, whether they were seen or not. */
const KEPT_DAYS = 30;
/** So long before the due time, whoever has not begun is reminded. */
const REMIND_HOURS = 48;
const MOST_ITEMS = 60;

/** What is new, before it is known whether it was seen. */
export type Told = Omit<NewsItem, 'isNew'>;

export interface News {
  /** What happened to somebody after a moment, the newest first. */
  since(user: Pick<User, 'id' | 'role'>, moment: Date): readonly Told[];
  /** What somebody finds behind the bell, with what was not seen yet. */
  of(user: Pick<User, 'id' | 'role'>): readonly NewsItem[];
  /** Somebody has looked. */
  seen(userId: number): void;
}

const told = (kind: NewsKind, { at }: { readonly at: string }, to: string, text: string): Told => ({
  id: `${kind} ${to} ${at}`,
  kind,
  at,
  text,
  to,
});

/** Told to a student, with the page of the exercise, or of the report. */
const ofExercise = (kind: NewsKind, fact: AssignmentFact, text: string): Told =>
  told(kind, fact, `/my/${String(fact.assignmentId)}`, text);
const ofReport = (kind: NewsKind, fact: AttemptFact, text: string): Told =>
  told(kind, fact, `/my/attempts/${String(fact.attemptId)}`, text);
/** Told to a student, with the page of the exercise at the stage whose sheet it is about. */
const ofSheet = (kind: NewsKind, fact: StageFact, text: string): Told =>
  told(kind, fact, `/my/${String(fact.assignmentId)}?stage=${String(fact.stage)}`, text);
/** Told to those who teach, with the page of the assignment. */
const ofClass = (kind: NewsKind, fact: ClassFact, text: string): Told =>
  told(kind, fact, `/assignments/${String(fact.assignmentId)}`, text);

const dueIn = ({ dueAt, timeZone }: AssignmentFact): string => spokenIn(dueAt, timeZone);
const count = (many: number, one: string): string => `${String(many)} ${one}${many === 1 ? '' : 's'}`;

function extensionInWords({ exercise, ownDueAt, extraAttempts, standing, timeZone }: ExtensionFact): string {
  if (standing === 'excused') return `You need not hand in ${exercise}.`;
  const given = [
    ...(ownDueAt === null ? [] : [`until ${spokenIn(ownDueAt, timeZone)}`]),
    ...(extraAttempts === 0 ? [] : [`${count(extraAttempts, 'attempt')} more`]),
  ];
  if (standing === 'absent')
    return `You are noted as absent for ${exercise}: it does not count as missing${ownDueAt === null ? ' until it is agreed when you make it up' : `, and you have ${given.join(' and ')}`}.`;
  return given.length === 0
    ? `What was given to you for ${exercise} was changed.`
    : `You have ${given.join(' and ')} for ${exercise}.`;
}

/** So long before the work of a course is erased, its staff is told. */
const RETENTION_DAYS = 30;
/** Of what ends on this day, one is told at a moment. */
const remindedDay = (moment: string): string => addDays(new Date(moment), RETENTION_DAYS).toISOString().slice(0, 10);

/** A moment before a due time, at which it is so near that one is told. */
const reminderOf = (dueAt: string): string => addHours(new Date(dueAt), -REMIND_HOURS).toISOString();
const reminded = <F extends DueFact>(fact: F): F => ({ ...fact, at: reminderOf(fact.dueAt) });
/** Whatever was issued later than that has said its due time just now. */
const isReminded = ({ seenFrom, dueAt }: DueFact): boolean => seenFrom < reminderOf(dueAt);

export function createNews(db: Db, now: () => Date): News {
  const of = newsStatements(db);
  const seenAt = db.prepare<[number], string | null>('SELECT news_seen_at FROM users WHERE id = ?').pluck();
  const see = db.prepare<[string, number]>('UPDATE users SET news_seen_at = ? WHERE id = ?');

  function ofStudent(span: Span): Told[] {
    return [
      ...of.issued.all(span).map((one) => {
        const due = one.dueAt > span.until ? `, due ${dueIn(one)}` : `; it was due ${dueIn(one)}`;
        return ofExercise('issued', one, `${one.exercise} is there${due}.`);
      }),
      ...of.dueChanged
        .all(span)
        .map((one) => ofExercise('due-changed', one, `${one.exercise} is due ${dueIn(one)} now.`)),
      ...of.dueSoon
        .all(span)
        .filter(isReminded)
        .map((one) =>
          ofExercise('due-soon', reminded(one), `${one.exercise} is due ${dueIn(one)}, and nothing is handed in yet.`),
        ),
      ...of.answers.all(span).map((one) => ofExercise('answers', one, `The answers of ${one.exercise} are there.`)),
      ...of.extensions.all(span).map((one) => ofExercise('extension', one, extensionInWords(one))),
      ...of.reports.all(span).map((one) => ofReport('report', one, `Your report on ${one.exercise} is there.`)),
      ...of.remarks
        .all(span)
        .map((one) => ofReport('remark', one, `Your instructor has written to your ${one.exercise}.`)),
      ...of.answered
        .all(span)
        .map((one) => ofReport('answered', one, `What you wrote about ${one.exercise} is answered.`)),
      ...of.corrected.all(span).map((one) => {
        const anew = one.handedIn === 1 ? ' What you have handed in is measured anew.' : '';
        return ofExercise('corrected', one, `${one.exercise} was corrected: look at the sheet again.${anew}`);
      }),
      ...of.givenBack
        .all(span)
        .map((one) =>
          ofReport(
            'given-back',
            one,
            `An attempt at ${one.exercise} was given back to you: it counts nothing, and may be made once more.`,
          ),
        ),
      ...of.questionsAnswered.all(span).map((one) => {
        const what = one.own === 1 ? 'Your question about' : 'A question about';
        return ofSheet('question-answered', one, `${what} ${one.exercise} is answered.`);
      }),
      ...of.errata
        .all(span)
        .map((one) =>
          ofSheet('erratum', one, `The sheet of ${one.exercise} is corrected: read what your instructor says of it.`),
        ),
    ];
  }

  function ofStaff(span: Span): Told[] {
    const { since: from, until: to, dueSince, dueUntil } = span;
    const about = ({ exercise, section }: ClassFact): string => `${exercise} for ${section}`;
    const soon = of.classes
      .all({ ...span, from: dueSince, to: dueUntil })
      .filter((one) => one.begun < one.students && one.dueAt > to && isReminded(one));
    const ended = of.classes.all({ ...span, from, to });
    return [
      ...of.requests.all(span).map((one) => {
        const what = one.wantsLook === 1 ? 'asks for another look at' : 'has written about';
        return told('request', one, `/attempts/${String(one.attemptId)}`, `${one.student} ${what} ${one.exercise}.`);
      }),
      ...of.questions.all(span).map((one) => {
        const to = `/assignments/${String(one.assignmentId)}/questions`;
        return told('question', one, to, `${one.student} asks about the sheet of ${one.exercise}.`);
      }),
      ...of.retention.all({ userId: span.userId, from: remindedDay(from), to: remindedDay(to) }).map((one) => {
        const at = addDays(new Date(one.keepUntil), -RETENTION_DAYS).toISOString();
        const text = `The work of students of ${one.title} is erased after ${one.keepUntil}. Save all of it before, on the page People.`;
        return told('retention', { at }, '/people', text);
      }),
      ...soon.map((one) => {
        const missing = `${String(one.students - one.begun)} of ${count(one.students, 'student')} have not handed in`;
        return ofClass('not-begun', reminded(one), `${about(one)} is due ${dueIn(one)}; ${missing}.`);
      }),
      ...ended.map((one) => {
        const handedIn = `${String(one.begun)} of ${count(one.students, 'student')} have handed in`;
        return ofClass('ended', one, `${about(one)} was due; ${handedIn}.`);
      }),
    ];
  }

  const since: News['since'] = ({ id, role }, moment) => {
    const time = now();
    const ahead = (date: Date): string => addHours(date, REMIND_HOURS).toISOString();
    const span: Span = {
      userId: id,
      since: moment.toISOString(),
      until: time.toISOString(),
      dueSince: ahead(moment),
      dueUntil: ahead(time),
    };
    const items = may(role, 'work') ? ofStudent(span) : may(role, 'review') ? ofStaff(span) : [];
    return items.sort((a, b) => b.at.localeCompare(a.at)).slice(0, MOST_ITEMS);
  };

  return {
    since,
    of(user) {
      const last = seenAt.get(user.id) ?? '';
      return since(user, addDays(now(), -KEPT_DAYS)).map((item) => ({ ...item, isNew: item.at > last }));
    },
    seen(userId) {
      see.run(now().toISOString(), userId);
    },
  };
}
