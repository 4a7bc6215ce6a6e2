/** Exercises issued to sections: issuing them, and what the instructor sees of them. */
import { subDays } from 'date-fns';
import * as v from 'valibot';

import { IssueSchema, type AssignmentDetail, type AssignmentSummary, type Desk, type IssueInput } from '#api';
import { stageCount } from '#core/exercise';
import { causeName } from '#core/cause';
import { grouped } from '#core/group';
import { median } from '#core/insight';
import type { Db } from '#server/db';

import {
  countingOfStages,
  documentOf,
  factsOf,
  policyOf,
  scoreOfStages,
  type AssignmentRow,
  meanOverStages,
} from './facts.ts';
import type { AssignmentChanges } from './changes.ts';
import type { Corrections } from './corrections.ts';
import { createAssignmentRows, type CauseRow, type Chosen, type Counts } from './assignment-rows.ts';
import { attemptRowOf } from './rows.ts';
import { createVariants } from './variants.ts';

export interface Assignments {
  /** Issues a revision to one section or several, all or none; the assignment of the first one. */
  issue(issue: IssueInput, revisionId: number): number;
  /** Issues a series, all of it or nothing; the assignments in its order. */
  issueSeries(series: readonly { readonly issue: IssueInput; readonly revisionId: number }[]): number[];
  listFor(instructorId: number): AssignmentSummary[];
  detailFor(assignmentId: number, instructorId: number): AssignmentDetail | null;
  /**
   * What is open or ended lately, the newest attempt of each student in it that was refused or scored below the line, and how
   * many older assignments there are.
   */
  deskFor(instructorId: number): Pick<Desk, 'needs' | 'assignments' | 'older'>;
}

const NOTHING_YET: Counts = { students: 0, handedIn: 0, graded: 0, refused: 0, inWork: 0, toReview: 0 };

/** Below this score an attempt is offered for a look. */
const LOOK_BELOW = 75;

/** What ended longer ago is not on the desk any more. */
const DESK_DAYS = 30;

export interface AssignmentsParts {
  readonly db: Db;
  readonly changes: Pick<AssignmentChanges, 'mayChange' | 'extensionsOf'>;
  readonly corrections: Pick<Corrections, 'newerOf' | 'of'>;
  readonly now: () => Date;
}

export function createAssignments({ db, changes, corrections, now }: AssignmentsParts): Assignments {
  const variants = createVariants(db);
  const rows = createAssignmentRows(db);
  /** The scores of the students who have one where the last attempt counts, in any order. */
  const lastScoresOf = (row: AssignmentRow): number[] =>
    grouped(rows.scores.all(row.id), ({ studentId }) => studentId).flatMap(
      (own) => scoreOfStages(countingOfStages(own, policyOf(row)), stageCount(documentOf(row))) ?? [],
    );
  /** What was handed in, and the scores of those who have one, the lowest first: of all assignments of an instructor, or of one. */
  const figuresOf = (chosen: Partial<Chosen>) => {
    const which: Chosen = { instructorId: null, since: '', assignmentId: null, ...chosen };
    const counts = new Map(rows.counts.all(which).map(({ id, ...numbers }) => [id, numbers]));
    // Sums over the stages; added up in the database, which need not make an object of each attempt for that.
    const best = new Map(
      rows.best.all(which).map(({ assignmentId, sums }) => [assignmentId, JSON.parse(sums) as number[]]),
    );
    const bestScoresOf = (row: AssignmentRow): number[] =>
      (best.get(row.id) ?? []).map((sum) => meanOverStages(sum, stageCount(documentOf(row))));
    return {
      countsOf: ({ id }: AssignmentRow): Counts => counts.get(id) ?? NOTHING_YET,
      scoresOf: (row: AssignmentRow): number[] =>
        (policyOf(row).counts === 'last' ? lastScoresOf(row) : bestScoresOf(row)).sort((a, b) => a - b),
    };
  };
  const listSince = (instructorId: number, since: string): AssignmentSummary[] => {
    const figures = figuresOf({ instructorId, since });
    return rows.list.all(instructorId, since).map((row) => ({
      ...factsOf(row),
      ...figures.countsOf(row),
      medianScore: median(figures.scoresOf(row)),
    }));
  };
  const issueOne = db.transaction((input: IssueInput, revisionId: number) => {
    const issue = v.parse(IssueSchema, input);
    const { alsoTo, attemptsAllowed, answers, lateUntil, release, feedback, aids, openReason } = issue;
    const lateMs = lateUntil === null ? null : Date.parse(lateUntil) - Date.parse(issue.dueAt);
    const [first = 0] = [issue, ...alsoTo].map(({ sectionId, opensAt, dueAt }) => {
      const assignmentId = Number(
        rows.put.run(
          revisionId,
          sectionId,
          new Date(opensAt).toISOString(),
          new Date(dueAt).toISOString(),
          attemptsAllowed,
          answers,
          lateMs === null ? null : new Date(Date.parse(dueAt) + lateMs).toISOString(),
          release,
          JSON.stringify(feedback),
          JSON.stringify(aids),
          openReason === '' ? null : openReason,
          now().toISOString(),
        ).lastInsertRowid,
      );
      variants.give(assignmentId);
      return assignmentId;
    });
    return first;
  });
  return {
    issue: issueOne,
    issueSeries: db.transaction((series: Parameters<Assignments['issueSeries']>[0]) =>
      series.map(({ issue, revisionId }) => issueOne(issue, revisionId)),
    ),
    listFor: (instructorId) => listSince(instructorId, ''),
    deskFor(instructorId) {
      const since = subDays(now(), DESK_DAYS).toISOString();
      return {
        needs: rows.needs.all(instructorId, since, LOOK_BELOW),
        assignments: listSince(instructorId, since),
        older: rows.older.get(instructorId, since) ?? 0,
      };
    },
    detailFor(assignmentId, instructorId) {
      const row = rows.find.get(instructorId, assignmentId);
      if (row === undefined) return null;
      const figures = figuresOf({ assignmentId });
      return {
        ...factsOf(row),
        students: figures.countsOf(row).students,
        courseId: row.courseId,
        sectionId: row.sectionId,
        openReason: row.openReason,
        withdrawnAt: row.withdrawnAt,
        mayChange: changes.mayChange(row.id, instructorId),
        extensions: changes.extensionsOf(row.id),
        newer: corrections.newerOf(row.id),
        corrections: corrections.of(row.id),
        counts: policyOf(row).counts ?? 'best',
        scores: figures.scoresOf(row),
        attempts: rows.attempts.all(row.id).map(attemptRowOf),
        missing: rows.missing.all(row.sectionId, row.id),
        causes: causesOf(rows.causes.all(row.id)),
      };
    },
  };
}

/** Causes by kind, those of most students first. */
function causesOf(rows: readonly CauseRow[]): AssignmentDetail['causes'] {
  const groups = new Map<string, AssignmentDetail['causes'][number]>();
  for (const { id, ...attempt } of rows) {
    const known = groups.get(id) ?? { id, name: causeName(id), attempts: [] };
    if (!known.attempts.some(({ attemptId }) => attemptId === attempt.attemptId)) known.attempts.push(attempt);
    groups.set(id, known);
  }
  return [...groups.values()].sort((a, b) => b.attempts.length - a.attempts.length);
}
