/** Reports in the database: whole, and in the columns that lists read. */
import type { Report, ScoringPolicy } from '#core/grade';
import type { Diagnosis } from '#core/mistake';
import type { Measurement } from '#core/check';
import type { Db } from '#server/db';

/** A report together with all it was made from. */
export interface NewReport {
  readonly attemptId: number;
  readonly report: Report;
  readonly measurement: Measurement;
  readonly diagnosis: Diagnosis | null;
  readonly modelSha256: string;
  readonly overlaySha256: string | null;
  readonly gradedAt: Date;
  readonly durationMs: number;
  readonly policy: ScoringPolicy;
  /** Version of the program that scored it. */
  readonly program: string;
}

/** What scoring anew changes. */
export type Rescoring = Pick<NewReport, 'attemptId' | 'report' | 'policy' | 'program'>;

/** Writes reports; call inside the transaction that they belong to. */
export interface ReportStore {
  /** The report of an attempt, instead of one that it may have had. */
  put(report: NewReport): void;
  /** What was measured stays as it is. */
  rescore(rescoring: Rescoring): void;
}

export function createReportStore(db: Db): ReportStore {
  const insert = db.prepare<[string, string | null, string, string | null, string, number, number]>(
    `INSERT INTO reports (measurement_json, diagnosis_json, model_sha256, overlay_sha256, graded_at, duration_ms, attempt_id,
       score, report_json)
     VALUES (?, ?, ?, ?, ?, ?, ?, 0, '{}')
     ON CONFLICT (attempt_id) DO UPDATE SET measurement_json = excluded.measurement_json,
       diagnosis_json = excluded.diagnosis_json, model_sha256 = excluded.model_sha256,
       overlay_sha256 = excluded.overlay_sha256, graded_at = excluded.graded_at, duration_ms = excluded.duration_ms`,
  );
  const setScore = db.prepare<[number, number, string | null, string, string, string, number]>(
    `UPDATE reports SET score = ?, score_before_release = ?, finding = ?, report_json = ?, policy_json = ?, program = ?
     WHERE attempt_id = ?`,
  );
  const setAttemptScore = db.prepare<[number, number]>(
    "UPDATE attempts SET score = ? WHERE id = ? AND state <> 'refused'",
  );
  const forgetCauses = db.prepare<[number]>('DELETE FROM report_causes WHERE attempt_id = ?');
  const addCause = db.prepare<[number, number, string, string]>(
    'INSERT INTO report_causes (attempt_id, place, kind, message) VALUES (?, ?, ?, ?)',
  );
  const forgetChecks = db.prepare<[number]>('DELETE FROM report_checks WHERE attempt_id = ?');
  const addCheck = db.prepare<[number, string, string, number, number]>(
    'INSERT INTO report_checks (attempt_id, check_id, label, credit, points) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO NOTHING',
  );
  const putChecks = (attemptId: number, lines: Report['lines']): void => {
    forgetChecks.run(attemptId);
    const total = lines.reduce((sum, { weight }) => sum + weight, 0);
    for (const { checkId, label, credit, weight } of lines) {
      const earned = credit ?? 0;
      addCheck.run(attemptId, checkId, label, earned, total > 0 ? (100 * earned * weight) / total : 0);
    }
  };
  const rescore = ({ attemptId, report, policy, program }: Rescoring): void => {
    const finding = report.causes[0]?.message ?? null;
    const json = JSON.stringify(report);
    setScore.run(report.score, report.scoreBeforeRelease, finding, json, JSON.stringify(policy), program, attemptId);
    setAttemptScore.run(report.score, attemptId);
    putChecks(attemptId, report.lines);
    forgetCauses.run(attemptId);
    for (const [place, { id, message, instead }] of report.causes.entries())
      if (!instead) addCause.run(attemptId, place, id, message);
  };
  return {
    put(whole) {
      const { attemptId, measurement, diagnosis, modelSha256, overlaySha256, gradedAt, durationMs } = whole;
      insert.run(
        JSON.stringify(measurement),
        diagnosis === null ? null : JSON.stringify(diagnosis),
        modelSha256,
        overlaySha256,
        gradedAt.toISOString(),
        durationMs,
        attemptId,
      );
      rescore(whole);
    },
    rescore,
  };
}
