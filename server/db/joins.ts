/** SQL that joins to "assignments" what was issued: "exercise_revisions" and "exercises". */
export const JOIN_ISSUED = `
  JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
  JOIN exercises ON exercises.id = exercise_revisions.exercise_id`;

/** SQL that joins to "attempts" what was handed in for: "assignments", "exercise_revisions" and "exercises". */
export const JOIN_EXERCISE = `
  JOIN assignments ON assignments.id = attempts.assignment_id${JOIN_ISSUED}`;
