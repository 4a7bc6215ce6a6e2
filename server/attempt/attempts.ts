/** Attempts: handing in as a student, reading reports as student or instructor. */
import * as v from 'valibot';

import {
  may,
  TypedInputsSchema,
  type AttemptDetail,
  type AttemptRow,
  type AttemptState,
  type User,
  type WorkDetail,
  type WorkItem,
} from '#api';
import { readBuildLog } from '#core/buildlog';
import { exerciseOfStage, stageCount, type Exercise } from '#core/exercise';
import { checkTyped, degreeFor, reportFor, ReportSchema, tells, type Report, type TypedInput } from '#core/grade';
import { refuse, succeed, unwrap, type Result, type Problem } from '#core/problem';
import { evaluateParameters, LENGTH_UNITS, type LengthUnit } from '#core/quantity';
import { withValues } from '#core/recipe';
import { dimensionText, type SheetFields } from '#core/sheet';
import type { Placement } from '#core/vector';
import {
  answersReleased,
  attemptRowOf,
  countingOfStages,
  createVariants,
  documentOf,
  endOf,
  factsOf,
  feedbackOf,
  policyOf,
  scoreOfStages,
  SELECT_ASSIGNMENT,
  SELECT_ATTEMPT_ROWS,
  type AssignmentRow,
  type StoredAttemptRow,
} from '#server/assignment';
import { joinStaff } from '#server/auth';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import { JOIN_PART, type Queue } from '#server/jobs';
import type { Reviews } from '#server/review';

interface AttemptRecord {
  readonly id: number;
  readonly assignmentId: number;
  readonly studentId: number;
  readonly student: string;
  readonly state: AttemptState;
  readonly number: number | null;
  readonly stage: number;
  readonly fileName: string;
  readonly fileSizeBytes: number;
  readonly fileSha256: string;
  readonly handedInAt: string;
  readonly typedJson: string;
  readonly buildLog: string;
  readonly refusalCode: string | null;
  readonly refusalMessage: string | null;
  readonly reportJson: string | null;
  readonly program: string | null;
  readonly modelSha256: string | null;
  readonly overlaySha256: string | null;
  readonly gradedAt: string | null;
  readonly durationMs: number | null;
}

export interface HandInRequest {
  readonly assignmentId: number;
  readonly studentId: number;
  /** From 1; further stages are open once the one before was graded. */
  readonly stage?: number;
  readonly fileName: string;
  readonly content: Uint8Array;
  /** What the student says a file without unit is in. */
  readonly fileUnit: LengthUnit | null;
  readonly typed: readonly TypedInput[];
  /** The list of build steps, empty for none. */
  readonly buildLog?: string;
}

/** A stored drawing, and what its title block says. */
export interface StudentSheet {
  readonly sha256: string;
  readonly number: string;
  readonly fields: SheetFields;
}

export interface Attempts {
  /** Stores the file and queues its grading. Refuses with `not-found`, `closed`, `no-attempts-left`, and bad numbers. */
  handIn(request: HandInRequest): Promise<Result<number>>;
  workOf(studentId: number): WorkItem[];
  /** The work of a student in one stage of it; where none is asked for, the last one that is open. */
  workDetail(assignmentId: number, studentId: number, stage?: number): WorkDetail | null;
  sheetOf(assignmentId: number, studentId: number, stage?: number): StudentSheet | null;
  /** The sheet that an attempt was made from, for whoever may see the attempt. */
  sheetOfAttempt(attemptId: number, user: User): StudentSheet | null;
  /** The sheets of all students of an assignment, for the instructor who teaches it. */
  printPack(
    assignmentId: number,
    user: User,
  ): { readonly name: string; readonly sheets: readonly StudentSheet[] } | null;
  /** An attempt as the user may see it, or null. */
  detailFor(attemptId: number, user: User): AttemptDetail | null;
  /** The attempt whose overlay the user may see: a student after the answers are released. */
  overlayFor(attemptId: number, user: User): Pick<AttemptRecord, 'overlaySha256' | 'fileName'> | null;
  /** The reference that an attempt was measured against, for whoever teaches it. */
  referenceFor(attemptId: number, user: User): { readonly sha256: string; readonly placement: Placement } | null;
  /** Hashes of the files of an attempt that the user may see. */
  filesFor(attemptId: number, user: User): Pick<AttemptRecord, 'fileSha256' | 'fileName' | 'modelSha256'> | null;
}

/** The title of a further stage, "First part" for the first one; null for an exercise of one stage. */
const stageTitle = ({ stages }: Pick<Exercise, 'stages'>, stage: number): string | null =>
  stages.length === 0 ? null : (stages[stage - 2]?.title ?? 'First part');

const NO_ATTEMPTS_LEFT = 'All attempts of this exercise are used.';

export interface AttemptsParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly queue: Queue;
  readonly now: () => Date;
  readonly reviewOf: Reviews['reviewOf'];
}

export function createAttempts({ db, files, queue, now, reviewOf }: AttemptsParts): Attempts {
  const variants = createVariants(db);
  const partSheet = db.prepare<[number, number, number], { sha256: string }>(
    `SELECT revision_parts.sheet_sha256 AS sha256 FROM revision_parts
     JOIN assignments ON assignments.revision_id = revision_parts.revision_id
     WHERE assignments.id = ? AND revision_parts.variant = ? AND revision_parts.stage = ?`,
  );
  /** The variant of a student, with its name and values; null where all have the same part. */
  const variantOf = (row: AssignmentRow, studentId: number) => {
    const place = variants.of(row.id, studentId);
    return place === null ? null : (documentOf(row).variants[place] ?? null);
  };
  const enrolled = `JOIN enrollments ON enrollments.section_id = sections.id WHERE enrollments.user_id = ?`;
  const workList = db.prepare<[number], AssignmentRow>(`${SELECT_ASSIGNMENT} ${enrolled} ORDER BY assignments.due_at`);
  const work = db.prepare<[number, number], AssignmentRow>(`${SELECT_ASSIGNMENT} ${enrolled} AND assignments.id = ?`);
  const assignment = db.prepare<[number], AssignmentRow>(`${SELECT_ASSIGNMENT} WHERE assignments.id = ?`);
  const used = db.prepare<[number, number, number], { count: number }>(
    "SELECT count(*) AS count FROM attempts WHERE assignment_id = ? AND student_id = ? AND stage = ? AND state <> 'refused'",
  );
  const gradedStages = db.prepare<[number, number], { stage: number }>(
    "SELECT DISTINCT stage FROM attempts WHERE assignment_id = ? AND student_id = ? AND state = 'graded' ORDER BY stage",
  );
  const own = db.prepare<[number, number], StoredAttemptRow>(
    `${SELECT_ATTEMPT_ROWS} AND attempts.student_id = ? ORDER BY attempts.id DESC`,
  );
  const insert = db.prepare(
    `INSERT INTO attempts (assignment_id, student_id, stage, file_sha256, file_name, file_size_bytes, file_unit, typed_json, build_log, handed_in_at, state)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 'waiting')`,
  );
  const find = db.prepare<[number], AttemptRecord>(
    `SELECT attempts.id, assignment_id AS assignmentId, student_id AS studentId, users.name AS student, state, stage,
            file_name AS fileName, file_size_bytes AS fileSizeBytes, file_sha256 AS fileSha256,
            handed_in_at AS handedInAt, typed_json AS typedJson, build_log AS buildLog, refusal_code AS refusalCode,
            refusal_message AS refusalMessage, report_json AS reportJson, program, model_sha256 AS modelSha256, overlay_sha256 AS overlaySha256,
            graded_at AS gradedAt, duration_ms AS durationMs,
            CASE WHEN state = 'refused' THEN NULL ELSE (SELECT count(*) FROM attempts AS earlier
              WHERE earlier.assignment_id = attempts.assignment_id AND earlier.student_id = attempts.student_id
                AND earlier.stage = attempts.stage AND earlier.state <> 'refused' AND earlier.id <= attempts.id) END AS number
     FROM attempts JOIN users ON users.id = attempts.student_id LEFT JOIN reports ON reports.attempt_id = attempts.id
     WHERE attempts.id = ?`,
  );
  const referenceOf = db.prepare<[number], { sha256: string }>(
    `SELECT coalesce(revision_parts.reference_sha256, exercise_revisions.reference_sha256) AS sha256
     FROM attempts JOIN assignments ON assignments.id = attempts.assignment_id
     JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id ${JOIN_PART} WHERE attempts.id = ?`,
  );
  const teaches = db.prepare<[number, number], { yes: number }>(
    `SELECT 1 AS yes FROM assignments JOIN sections ON sections.id = assignments.section_id
     ${joinStaff('sections.course_id', 'read-course')}
     WHERE assignments.id = ? AND course_staff.user_id = ?`,
  );
  // From student to student: of each, the newest attempt of each stage that was graded.
  const reviewOrder = db.prepare<[number], { id: number; studentId: number; stage: number }>(
    `SELECT max(attempts.id) AS id, student_id AS studentId, stage FROM attempts JOIN users ON users.id = student_id
     WHERE assignment_id = ? AND state = 'graded' GROUP BY student_id, stage ORDER BY users.name, stage`,
  );

  const sectionStudents = db.prepare<[number], { id: number; name: string }>(
    `SELECT users.id, users.name FROM enrollments JOIN users ON users.id = enrollments.user_id
     WHERE enrollments.section_id = ? ORDER BY users.name`,
  );

  function sheetFor(row: AssignmentRow, studentId: number, stage: number): StudentSheet | null {
    const place = variants.of(row.id, studentId);
    const sha256 = place === null && stage === 1 ? row.sheetSha256 : partSheet.get(row.id, place ?? -1, stage)?.sha256;
    if (sha256 === undefined) return null;
    const variant = variantOf(row, studentId)?.name;
    const stageName = stageTitle(documentOf(row), stage);
    const fields = {
      course: row.course,
      revision: String(row.revision),
      date: row.opensAt.slice(0, 10),
      variant: [variant, stage > 1 ? stageName : null].filter((part) => typeof part === 'string').join(', '),
    };
    return { sha256, number: row.exerciseNumber, fields };
  }

  /** The highest stage that a student may hand in: the first, and each whose predecessor was graded. */
  function lastOpenStage(row: AssignmentRow, studentId: number): number {
    const graded = new Set(gradedStages.all(row.id, studentId).map(({ stage }) => stage));
    const count = stageCount(documentOf(row));
    let stage = 1;
    while (stage < count && graded.has(stage)) stage++;
    return stage;
  }

  function closedBecause(row: AssignmentRow, attemptsUsed: number): Problem | null {
    const time = now().toISOString();
    if (time < row.opensAt) return { code: 'closed', message: 'This exercise is not open yet.' };
    if (time > endOf(row))
      return { code: 'closed', message: 'The due time has passed; nothing can be handed in any more.' };
    if (attemptsUsed >= row.attemptsAllowed) return { code: 'no-attempts-left', message: NO_ATTEMPTS_LEFT };
    return null;
  }

  /** How much the report of an attempt tells its student; null as long as it is not released. */
  function degreeOf(
    row: AssignmentRow,
    { number, stage }: Pick<AttemptRow, 'number' | 'stage'>,
    studentId: number,
    released: boolean,
  ) {
    if (!released) return null;
    const closed = closedBecause(row, usedBy(row.id, studentId, stage)) !== null;
    return degreeFor(feedbackOf(row), number ?? 1, closed);
  }

  /** The attempts of a student, with no more than the student may know, the newest first. */
  const ownRows = (row: AssignmentRow, studentId: number): AttemptRow[] =>
    own.all(row.id, studentId).map((stored) => {
      const attempt = attemptRowOf(stored);
      if (attempt.state !== 'graded') return attempt;
      const degree = degreeOf(row, attempt, studentId, attempt.released);
      return {
        ...attempt,
        accepted: false,
        score: degree === null ? null : attempt.score,
        finding: degree !== null && tells(degree, 'causes') ? attempt.finding : null,
      };
    });

  const usedBy = (assignmentId: number, studentId: number, stage: number): number =>
    used.get(assignmentId, studentId, stage)?.count ?? 0;

  const visible = (attemptId: number, user: User): AttemptRecord | null => {
    const record = find.get(attemptId);
    if (record === undefined) return null;
    const mayRead =
      record.studentId === user.id ||
      (may(user.role, 'read-course') && teaches.get(record.assignmentId, user.id) !== undefined);
    return mayRead ? record : null;
  };

  return {
    async handIn({ assignmentId, studentId, stage = 1, fileName, content, fileUnit, typed, buildLog = '' }) {
      const row = work.get(studentId, assignmentId);
      if (row === undefined) return refuse('not-found', 'There is no such exercise among your work.');
      if (stage > lastOpenStage(row, studentId))
        return refuse('stage-closed', 'This stage opens when the one before has been handed in and measured.');
      const closed = closedBecause(row, usedBy(assignmentId, studentId, stage));
      if (closed) return refuse(closed.code, closed.message);
      // A student who was enrolled after the issue gets a variant with the first look at the work.
      variants.of(assignmentId, studentId);
      const checked = checkTyped(typed);
      if (!checked.ok) return checked;
      const log = readBuildLog(buildLog);
      if (!log.ok) return log;
      const stored = await files.put(content);
      // Checked again together with the insert: two browsers may hand in at once.
      const result = db.transaction((): Result<number> => {
        const stillClosed = closedBecause(row, usedBy(assignmentId, studentId, stage));
        if (stillClosed) return refuse(stillClosed.code, stillClosed.message);
        const attemptId = Number(
          insert.run(
            assignmentId,
            studentId,
            stage,
            stored.sha256,
            fileName,
            stored.sizeBytes,
            fileUnit,
            JSON.stringify(checked.value),
            buildLog,
            now().toISOString(),
          ).lastInsertRowid,
        );
        queue.add(attemptId);
        return succeed(attemptId);
      })();
      queue.wake();
      return result;
    },

    workOf: (studentId) =>
      workList
        .all(studentId)
        .filter((row) => row.opensAt <= now().toISOString())
        .map((row) => {
          const rows = ownRows(row, studentId);
          const stage = lastOpenStage(row, studentId);
          const attemptsUsed = usedBy(row.id, studentId, stage);
          const [last] = rows;
          return {
            ...factsOf(row),
            stage,
            attemptsUsed,
            bestScore: scoreOfStages(countingOfStages(rows, policyOf(row)), stageCount(documentOf(row))),
            lastAttempt: last ? { id: last.id, state: last.state, score: last.score } : null,
            open: closedBecause(row, attemptsUsed) === null,
          };
        }),

    workDetail(assignmentId, studentId, asked) {
      const row = work.get(studentId, assignmentId);
      if (row === undefined || row.opensAt > now().toISOString()) return null;
      const lastOpen = lastOpenStage(row, studentId);
      const stage = asked ?? lastOpen;
      if (stage < 1 || stage > lastOpen) return null;
      const whole = documentOf(row);
      const document = exerciseOfStage(whole, stage);
      const { unit, parameters } = document.recipe;
      const variant = variantOf(row, studentId);
      const values = document.variants.find(({ name }) => name === variant?.name)?.values ?? {};
      const scope = unwrap(evaluateParameters(unwrap(withValues(document.recipe, values)).parameters, unit));
      const attemptsUsed = usedBy(assignmentId, studentId, stage);
      const closed = closedBecause(row, attemptsUsed);
      const rows = ownRows(row, studentId);
      const best = countingOfStages(rows, policyOf(row));
      return {
        ...factsOf(row),
        variant: variant?.name ?? null,
        stage,
        stages:
          whole.stages.length === 0
            ? []
            : ['First part', ...whole.stages.map(({ title }) => title)].map((title, i) => ({
                title,
                open: i < lastOpen,
                bestScore: best.get(i + 1) ?? null,
              })),
        brief: whole.stages[stage - 2]?.brief ?? document.brief,
        origin: document.origin,
        notes: [...document.notes],
        densityGPerCm3: document.material.densityGPerCm3,
        letters: parameters
          .filter(({ name }) => /^[A-Z]$/.test(name))
          .map(({ name, label }) => ({
            name,
            label: label ?? '',
            value: dimensionText((scope[name] ?? 0) * LENGTH_UNITS[unit], { unit, decimals: document.decimals }),
          })),
        typedValues: [...document.typedValues],
        attemptsUsed,
        open: closed === null,
        closedBecause: closed?.message ?? null,
        pointsPerDayLate: row.lateUntil === null ? null : (policyOf(row).late?.perDay ?? 0),
        wantsBuildLog: whole.rules.length > 0,
        attempts: rows.filter((attempt) => attempt.stage === stage),
      };
    },

    sheetOf(assignmentId, studentId, asked) {
      const row = work.get(studentId, assignmentId);
      if (row === undefined || row.opensAt > now().toISOString()) return null;
      const lastOpen = lastOpenStage(row, studentId);
      const stage = asked ?? lastOpen;
      if (stage < 1 || stage > lastOpen) return null;
      return sheetFor(row, studentId, stage);
    },

    sheetOfAttempt(attemptId, user) {
      const record = visible(attemptId, user);
      const row = record && assignment.get(record.assignmentId);
      if (!record || !row) return null;
      const sheet = sheetFor(row, record.studentId, record.stage);
      return sheet && { ...sheet, fields: { ...sheet.fields, student: record.student } };
    },

    printPack(assignmentId, user) {
      const row = assignment.get(assignmentId);
      if (row === undefined || teaches.get(assignmentId, user.id) === undefined) return null;
      return {
        name: `${row.exerciseNumber} ${row.section}`,
        sheets: sectionStudents.all(row.sectionId).flatMap(({ id, name }) => {
          const sheet = sheetFor(row, id, 1);
          return sheet === null ? [] : [{ ...sheet, fields: { ...sheet.fields, student: name } }];
        }),
      };
    },

    detailFor(attemptId, user) {
      const record = visible(attemptId, user);
      const row = record && assignment.get(record.assignmentId);
      if (!record || !row) return null;
      const full = record.reportJson === null ? null : v.parse(ReportSchema, JSON.parse(record.reportJson));
      const forStudent = !may(user.role, 'read-course');
      const review = reviewOf(attemptId, forStudent);
      const degree = degreeOf(row, record, record.studentId, review.released);
      const shown = (whole: Report): Report | null =>
        !forStudent ? whole : degree === null ? null : reportFor(whole, degree, answersReleased(row, now()));
      const order = may(user.role, 'review') ? reviewOrder.all(record.assignmentId) : [];
      const place = order.findIndex(({ studentId, stage }) => studentId === record.studentId && stage === record.stage);
      return {
        id: record.id,
        number: record.number,
        state: record.state,
        student: { id: record.studentId, name: record.student },
        variant: variantOf(row, record.studentId)?.name ?? null,
        stage: stageTitle(documentOf(row), record.stage),
        assignment: factsOf(row),
        fileName: record.fileName,
        fileSizeBytes: record.fileSizeBytes,
        fileSha256: record.fileSha256,
        handedInAt: record.handedInAt,
        gradedAt: record.gradedAt,
        durationMs: record.durationMs,
        typed: v.parse(TypedInputsSchema, JSON.parse(record.typedJson)),
        refusal:
          record.refusalCode === null ? null : { code: record.refusalCode, message: record.refusalMessage ?? '' },
        report: full && shown(full),
        buildLog: record.buildLog,
        review,
        attempts: forStudent ? ownRows(row, record.studentId) : own.all(row.id, record.studentId).map(attemptRowOf),
        courseId: row.courseId,
        scored:
          forStudent || record.program === null
            ? null
            : { program: record.program, ownPolicy: row.policyJson !== null },
        previousId: order[place - 1]?.id ?? null,
        nextId: place < 0 ? null : (order[place + 1]?.id ?? null),
      };
    },

    filesFor: (attemptId, user) => visible(attemptId, user),

    referenceFor(attemptId, user) {
      const record = may(user.role, 'read-course') ? visible(attemptId, user) : null;
      const found = referenceOf.get(attemptId);
      if (!record?.reportJson || found === undefined) return null;
      const { frame } = v.parse(ReportSchema, JSON.parse(record.reportJson));
      return { sha256: found.sha256, placement: frame.placement };
    },

    overlayFor(attemptId, user) {
      const record = visible(attemptId, user);
      const row = record && assignment.get(record.assignmentId);
      if (!record?.overlaySha256 || !row) return null;
      if (may(user.role, 'read-course')) return record;
      const degree = degreeOf(row, record, record.studentId, reviewOf(attemptId, true).released);
      // What is missing or extra tells the volume of the reference.
      return degree !== null && tells(degree, 'overlay') && answersReleased(row, now()) ? record : null;
    },
  };
}
