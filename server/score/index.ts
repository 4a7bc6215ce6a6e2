/** Scoring without measuring: what another policy makes of the attempts of an assignment, and setting it. */
import { setImmediate } from 'node:timers/promises';

import type { Hono } from 'hono';
import * as v from 'valibot';

import { RescoreSchema, TypedInputsSchema, type PolicyAnswer, type Rescored } from '#api';
import { MeasurementSchema, type Reference } from '#core/check';
import { gradeMeasurement, policyIn, ReportSchema, type Override, type Report, type ScoringPolicy } from '#core/grade';
import { DiagnosisSchema, diagnosedOf } from '#core/mistake';
import { joinStaff } from '#server/auth';
import { JOIN_EXERCISE, type Db } from '#server/db';
import { parseExercise } from '#server/exercise';
import type { References } from '#server/reference';
import { allow, idParam, jsonBody, notFound, userOf, type AppEnv } from '#server/http';
import {
  createCircumstances,
  DUE_AT,
  JOIN_EXTENSION,
  JOIN_PART,
  REFERENCE_SHA256,
  PROGRAM_VERSION,
  type StoredCircumstances,
} from '#server/jobs';
import { createReportStore } from '#server/report';

interface MeasuredRow extends StoredCircumstances {
  readonly attemptId: number;
  readonly assignmentId: number;
  readonly student: string;
  readonly stage: number;
  readonly score: number;
  readonly typedJson: string;
  readonly measurementJson: string;
  readonly reportJson: string;
  readonly diagnosisJson: string | null;
  readonly referenceSha256: string;
}

export interface Scoring {
  /** Scores anew what may be late otherwise than before: of one student, or of all. */
  rescoreLate(assignmentId: number, studentId: number | null): Promise<void>;
  /** How an assignment is scored, and what its exercise says. Null for one that the instructor does not teach. */
  policyOf(assignmentId: number, userId: number, action: 'read-course' | 'score'): PolicyAnswer | null;
  /** What a policy makes of every measured attempt; with `apply`, it holds from now on. Null returns to the exercise's. */
  rescore(assignmentId: number, policy: ScoringPolicy | null, apply: boolean): Promise<Rescored>;
  /**
   * Scores one attempt by the policy of its assignment as it is now. A `change` is made together with the new score, or
   * not at all; what it throws is passed on.
   */
  rescoreAttempt(attemptId: number, change?: () => void): Promise<void>;
}

const MEASURED = `
  SELECT attempts.id AS attemptId, attempts.assignment_id AS assignmentId, users.name AS student, attempts.stage, reports.score, attempts.typed_json AS typedJson,
         attempts.build_log AS buildLog, attempts.handed_in_at AS handedInAt, ${DUE_AT} AS dueAt,
         attempts.round_open AS roundOpen, attempts.round_all AS roundAll,
         exercises.course_id AS courseId, exercises.id AS exerciseId,
         measurement_json AS measurementJson, report_json AS reportJson, diagnosis_json AS diagnosisJson,
         ${REFERENCE_SHA256} AS referenceSha256
  FROM reports JOIN attempts ON attempts.id = reports.attempt_id
  JOIN users ON users.id = attempts.student_id
  ${JOIN_EXERCISE}
  ${JOIN_EXTENSION}
  ${JOIN_PART}`;

interface PolicyRow {
  readonly policyJson: string | null;
  readonly documentJson: string;
}

const holding = ({ policyJson, documentJson }: PolicyRow): ScoringPolicy =>
  policyIn(policyJson, parseExercise(documentJson).scoring);

/** Which policy holds for an assignment. */
function createPolicyRows(db: Db) {
  const policyFor = (action: 'read-course' | 'score') =>
    db.prepare<[number, number], PolicyRow>(
      `SELECT assignments.policy_json AS policyJson, document_json AS documentJson
     FROM assignments JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
     JOIN sections ON sections.id = assignments.section_id
     ${joinStaff('sections.course_id', action)}
     WHERE assignments.id = ? AND course_staff.user_id = ?`,
    );
  const taught = { 'read-course': policyFor('read-course'), score: policyFor('score') };
  const current = db.prepare<[number], PolicyRow>(
    `SELECT assignments.policy_json AS policyJson, document_json AS documentJson
     FROM assignments JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id WHERE assignments.id = ?`,
  );
  const setPolicy = db.prepare<[string | null, number]>('UPDATE assignments SET policy_json = ? WHERE id = ?');
  return { taught, current, setPolicy };
}

/** Scores what was measured, with what is known of the attempt now. */
function createScorer(db: Db, references: References) {
  const circumstancesOf = createCircumstances(db);
  const measured = db.prepare<[number], MeasuredRow>(
    `${MEASURED} WHERE attempts.assignment_id = ? ORDER BY users.name, attempts.id`,
  );
  const ids = db
    .prepare<[number, number | null, number | null], number>(
      "SELECT id FROM attempts WHERE assignment_id = ? AND state = 'graded' AND (? IS NULL OR student_id = ?)",
    )
    .pluck();
  const one = db.prepare<[number], MeasuredRow>(`${MEASURED} WHERE attempts.id = ?`);
  const overridesOf = db.prepare<[number], Override & { lineId: string }>(
    `SELECT line_id AS lineId, credit, reason, users.name AS "by" FROM overrides JOIN users ON users.id = made_by
     WHERE attempt_id = ?`,
  );
  const reports = createReportStore(db);

  async function referencesOf(rows: readonly MeasuredRow[]): Promise<ReadonlyMap<string, Reference>> {
    const wanted = [...new Set(rows.map(({ referenceSha256 }) => referenceSha256))];
    const read = async (sha256: string) => [sha256, await references.at(sha256)] as const;
    return new Map(await Promise.all(wanted.map(read)));
  }

  function scored(row: MeasuredRow, references: ReadonlyMap<string, Reference>, policy: ScoringPolicy): Report {
    const reference = references.get(row.referenceSha256);
    if (reference === undefined) throw new Error(`no reference ${row.referenceSha256}`);
    const before = v.parse(ReportSchema, JSON.parse(row.reportJson));
    const diagnosed =
      row.diagnosisJson === null ? null : diagnosedOf(v.parse(DiagnosisSchema, JSON.parse(row.diagnosisJson)));
    const typed = v.parse(TypedInputsSchema, JSON.parse(row.typedJson));
    const measurement = v.parse(MeasurementSchema, JSON.parse(row.measurementJson));
    const overrides = new Map(overridesOf.all(row.attemptId).map(({ lineId, ...override }) => [lineId, override]));
    const circumstances = { ...circumstancesOf(row), diagnosed, overrides };
    const report = gradeMeasurement(reference, measurement, { typed, policy, ...circumstances });
    return { ...report, overlay: before.overlay, warnings: before.warnings };
  }

  const put = (attemptId: number, report: Report, policy: ScoringPolicy): void => {
    reports.rescore({ attemptId, report, policy, program: PROGRAM_VERSION });
  };
  return { ids, measured, one, referencesOf, scored, put };
}

/** Time of one slice: requests of others are answered between two. */
const SLICE_MS = 25;

/** Works through a list, and lets others in now and then. */
async function inSlices<T, R>(items: readonly T[], work: (item: T) => R): Promise<R[]> {
  const results: R[] = [];
  let since = performance.now();
  for (const item of items) {
    results.push(work(item));
    if (performance.now() - since > SLICE_MS) {
      await setImmediate();
      since = performance.now();
    }
  }
  return results;
}

export function createScoring(db: Db, references: References): Scoring {
  const rows = createPolicyRows(db);
  const scorer = createScorer(db, references);

  async function rescoreAttempt(attemptId: number, change: () => void = () => undefined): Promise<void> {
    const measuredRow = scorer.one.get(attemptId);
    const references = await scorer.referencesOf(measuredRow === undefined ? [] : [measuredRow]);
    db.transaction(() => {
      change();
      const row = scorer.one.get(attemptId);
      const policyRow = row && rows.current.get(row.assignmentId);
      if (row === undefined || policyRow === undefined || !references.has(row.referenceSha256)) return;
      const policy = holding(policyRow);
      scorer.put(attemptId, scorer.scored(row, references, policy), policy);
    })();
  }

  return {
    policyOf(assignmentId, userId, action) {
      const row = rows.taught[action].get(assignmentId, userId);
      if (row === undefined) return null;
      const checks = parseExercise(row.documentJson).checks.filter(({ off }) => off !== true);
      return {
        policy: holding(row),
        own: row.policyJson !== null,
        checks: checks.map(({ id, label }) => ({ id, label })),
      };
    },
    async rescore(assignmentId, wanted, apply) {
      const row = rows.current.get(assignmentId);
      if (row === undefined) throw new Error(`no assignment ${String(assignmentId)}`);
      const policy = wanted ?? parseExercise(row.documentJson).scoring;
      const first = scorer.measured.all(assignmentId);
      const references = await scorer.referencesOf(first);
      const known = await inSlices(first, (one) =>
        references.has(one.referenceSha256) ? scorer.scored(one, references, policy) : null,
      );
      // From here on nothing waits: what is scored is what the database holds when the scores are written. What was changed
      // while the slices were made has another report, and is scored once more.
      const before = new Map(
        first.map(({ attemptId, reportJson }, i) => [attemptId, { reportJson, report: known[i] }]),
      );
      const scores = scorer.measured
        .all(assignmentId)
        .filter(({ referenceSha256 }) => references.has(referenceSha256))
        .map((one) => {
          const there = before.get(one.attemptId);
          const isSame = there?.reportJson === one.reportJson;
          return { row: one, report: (isSame ? there.report : null) ?? scorer.scored(one, references, policy) };
        });
      if (apply)
        db.transaction(() => {
          rows.setPolicy.run(wanted === null ? null : JSON.stringify(wanted), assignmentId);
          for (const {
            row: { attemptId },
            report,
          } of scores)
            scorer.put(attemptId, report, policy);
        })();
      return {
        changes: scores.map(({ row: { attemptId, student, stage, score }, report }) => ({
          attemptId,
          student,
          stage,
          before: score,
          after: report.score,
        })),
        applied: apply,
      };
    },
    async rescoreLate(assignmentId, studentId) {
      for (const attemptId of scorer.ids.all(assignmentId, studentId, studentId)) await rescoreAttempt(attemptId);
    },
    rescoreAttempt,
  };
}

export function scoringRoutes(app: Hono<AppEnv>, scoring: Scoring): void {
  app.get('/api/assignments/:id/policy', allow('read-course'), (c) => {
    const policy = scoring.policyOf(idParam(c) ?? 0, userOf(c).id, 'read-course');
    return policy === null ? notFound(c) : c.json(policy);
  });

  app.post('/api/assignments/:id/policy', allow('score'), jsonBody(RescoreSchema), async (c) => {
    const id = idParam(c) ?? 0;
    if (scoring.policyOf(id, userOf(c).id, 'score') === null) return notFound(c);
    const { policy, apply } = c.req.valid('json');
    return c.json(await scoring.rescore(id, policy, apply));
  });
}
