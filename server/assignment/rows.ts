import type { AttemptRow } from '#api';

/** An attempt as the database has it, where yes is 1. */
export type StoredAttemptRow = Omit<AttemptRow, 'accepted' | 'released'> & {
  readonly accepted: 0 | 1;
  readonly released: 0 | 1;
  readonly scoreBeforeRelease: number | null;
};

/** The code under which an attempt that was given back is kept: it counts as little as what could not be read. */
export const GIVEN_BACK = 'given-back';
/** How an attempt stands, as people are told it. */
export const SHOWN_STATE = `iif(attempts.refusal_code = '${GIVEN_BACK}', '${GIVEN_BACK}', attempts.state)`;

/** Attempts of an assignment in the order of hand-in; numbers count only what was not refused. */
export const SELECT_ATTEMPT_ROWS = `
  SELECT attempts.id, users.name AS student, users.id AS studentId, attempts.file_name AS fileName,
         attempts.handed_in_at AS handedInAt, ${SHOWN_STATE} AS state, attempts.stage,
         CASE WHEN attempts.state <> 'refused' THEN reports.score END AS score,
         CASE WHEN attempts.state <> 'refused' THEN reports.score_before_release END AS scoreBeforeRelease,
         CASE WHEN attempts.state = 'refused' THEN NULL ELSE
           sum(attempts.state <> 'refused') OVER (PARTITION BY attempts.student_id, attempts.stage ORDER BY attempts.id) END AS number,
         coalesce(attempts.refusal_message, reports.finding) AS finding,
         reviews.accepted_at IS NOT NULL AS accepted,
         assignments.release = 'automatic' OR reviews.released_at IS NOT NULL AS released
  FROM attempts JOIN users ON users.id = attempts.student_id
  JOIN assignments ON assignments.id = attempts.assignment_id
  LEFT JOIN reports INDEXED BY reports_in_lists ON reports.attempt_id = attempts.id
  LEFT JOIN reviews ON reviews.attempt_id = attempts.id
  WHERE attempts.assignment_id = ?`;

/** An attempt as those who teach it see it. */
export const attemptRowOf = ({ scoreBeforeRelease: _, ...row }: StoredAttemptRow): AttemptRow => ({
  ...row,
  accepted: row.accepted === 1,
  released: row.released === 1,
});
