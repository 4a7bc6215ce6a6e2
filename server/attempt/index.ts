/** Attempts: handing in as a student, reading reports as student or instructor. */
import type { Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import * as v from 'valibot';

import {
  MAX_FILE_BYTES,
  TypedInputsSchema,
  type AttemptDetail,
  type AttemptRow,
  type AttemptState,
  type User,
  type WorkDetail,
  type WorkItem,
} from '#api';
import { exerciseOfStage, stageCount, type Exercise } from '#core/exercise';
import { checkTyped, ReportSchema, withholdAnswers, type TypedInput } from '#core/grade';
import { OverlaySchema, overlayFile } from '#core/overlay';
import { refuse, succeed, unwrap, type Result } from '#core/problem';
import { evaluateParameters, LENGTH_UNITS, LengthUnitSchema, type LengthUnit } from '#core/quantity';
import { withValues } from '#core/recipe';
import { dimensionText, type SheetFields } from '#core/sheet';
import {
  answersReleased,
  createVariants,
  documentOf,
  factsOf,
  scoreOfStages,
  SELECT_ASSIGNMENT,
  SELECT_ATTEMPT_ROWS,
  type AssignmentRow,
} from '#server/assignment';
import type { Db } from '#server/db';
import { sheetAsSvg, sheetsAsPdf } from '#server/exercise';
import type { FileStore } from '#server/files';
import {
  allow,
  idParam,
  notFound,
  placeParam,
  pdfBody,
  refuseWith,
  safeFileName,
  userOf,
  type AppEnv,
} from '#server/http';
import type { Queue } from '#server/jobs';

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
  readonly refusalCode: string | null;
  readonly refusalMessage: string | null;
  readonly reportJson: string | null;
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
  /** Hashes of the files of an attempt that the user may see. */
  filesFor(attemptId: number, user: User): Pick<AttemptRecord, 'fileSha256' | 'fileName' | 'modelSha256'> | null;
}

/** The best score of each stage that has one. */
function bestOfStages(rows: readonly AttemptRow[]): ReadonlyMap<number, number> {
  const best = new Map<number, number>();
  for (const { stage, score } of rows) if (score !== null) best.set(stage, Math.max(score, best.get(stage) ?? 0));
  return best;
}

/** The title of a further stage, "First part" for the first one; null for an exercise of one stage. */
const stageTitle = ({ stages }: Pick<Exercise, 'stages'>, stage: number): string | null =>
  stages.length === 0 ? null : (stages[stage - 2]?.title ?? 'First part');

const NO_ATTEMPTS_LEFT = 'All attempts of this exercise are used.';

export function createAttempts(db: Db, files: FileStore, queue: Queue, now: () => Date): Attempts {
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
  const own = db.prepare<[number, number], AttemptRow>(
    `${SELECT_ATTEMPT_ROWS} AND attempts.student_id = ? ORDER BY attempts.id DESC`,
  );
  const insert = db.prepare(
    `INSERT INTO attempts (assignment_id, student_id, stage, file_sha256, file_name, file_size_bytes, file_unit, typed_json, handed_in_at, state)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, 'waiting')`,
  );
  const find = db.prepare<[number], AttemptRecord>(
    `SELECT attempts.id, assignment_id AS assignmentId, student_id AS studentId, users.name AS student, state, stage,
            file_name AS fileName, file_size_bytes AS fileSizeBytes, file_sha256 AS fileSha256,
            handed_in_at AS handedInAt, typed_json AS typedJson, refusal_code AS refusalCode,
            refusal_message AS refusalMessage, report_json AS reportJson, model_sha256 AS modelSha256, overlay_sha256 AS overlaySha256,
            graded_at AS gradedAt, duration_ms AS durationMs,
            CASE WHEN state = 'refused' THEN NULL ELSE (SELECT count(*) FROM attempts AS earlier
              WHERE earlier.assignment_id = attempts.assignment_id AND earlier.student_id = attempts.student_id
                AND earlier.stage = attempts.stage AND earlier.state <> 'refused' AND earlier.id <= attempts.id) END AS number
     FROM attempts JOIN users ON users.id = attempts.student_id LEFT JOIN reports ON reports.attempt_id = attempts.id
     WHERE attempts.id = ?`,
  );
  const teaches = db.prepare<[number, number], { yes: number }>(
    `SELECT 1 AS yes FROM assignments JOIN sections ON sections.id = assignments.section_id
     JOIN course_instructors ON course_instructors.course_id = sections.course_id
     WHERE assignments.id = ? AND course_instructors.user_id = ?`,
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

  function closedBecause(row: AssignmentRow, attemptsUsed: number): { code: string; message: string } | null {
    const time = now().toISOString();
    if (time < row.opensAt) return { code: 'closed', message: 'This exercise is not open yet.' };
    if (time > row.dueAt)
      return { code: 'closed', message: 'The due time has passed; nothing can be handed in any more.' };
    if (attemptsUsed >= row.attemptsAllowed) return { code: 'no-attempts-left', message: NO_ATTEMPTS_LEFT };
    return null;
  }

  const usedBy = (assignmentId: number, studentId: number, stage: number): number =>
    used.get(assignmentId, studentId, stage)?.count ?? 0;

  const visible = (attemptId: number, user: User): AttemptRecord | null => {
    const record = find.get(attemptId);
    if (record === undefined) return null;
    const mayRead =
      user.role === 'student' ? record.studentId === user.id : teaches.get(record.assignmentId, user.id) !== undefined;
    return mayRead ? record : null;
  };

  return {
    async handIn({ assignmentId, studentId, stage = 1, fileName, content, fileUnit, typed }) {
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
          const rows = own.all(row.id, studentId);
          const stage = lastOpenStage(row, studentId);
          const attemptsUsed = usedBy(row.id, studentId, stage);
          const [last] = rows;
          return {
            ...factsOf(row),
            stage,
            attemptsUsed,
            bestScore: scoreOfStages(bestOfStages(rows), stageCount(documentOf(row))),
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
      const rows = own.all(assignmentId, studentId);
      const best = bestOfStages(rows);
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
      const withheld = user.role === 'student' && !answersReleased(row, now());
      const order = user.role === 'instructor' ? reviewOrder.all(record.assignmentId) : [];
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
        report: full && withheld ? withholdAnswers(full) : full,
        previousId: order[place - 1]?.id ?? null,
        nextId: place < 0 ? null : (order[place + 1]?.id ?? null),
      };
    },

    filesFor: (attemptId, user) => visible(attemptId, user),

    overlayFor(attemptId, user) {
      const record = visible(attemptId, user);
      const row = record && assignment.get(record.assignmentId);
      if (!record?.overlaySha256 || !row) return null;
      // What is missing or extra tells the volume of the reference.
      return user.role === 'student' && !answersReleased(row, now()) ? null : record;
    },
  };
}

const STATUS = { 'not-found': 404, closed: 409, 'stage-closed': 409, 'no-attempts-left': 409 } as const;

/** Files of one student in ten minutes: far more than anyone needs, and far less than would fill the disk. */
const HAND_INS = { points: 120, duration: 600 } as const;

export function attemptRoutes(app: Hono<AppEnv>, attempts: Attempts, files: FileStore): void {
  const handIns = new RateLimiterMemory(HAND_INS);
  app.get('/api/work', allow('student'), (c) => c.json({ work: attempts.workOf(userOf(c).id) }));

  app.get('/api/work/:id', allow('student'), (c) => {
    const detail = attempts.workDetail(idParam(c) ?? 0, userOf(c).id, placeParam(c.req.query('stage')));
    return detail === null ? notFound(c) : c.json(detail);
  });

  app.get('/api/work/:id/sheet.svg', allow('student'), async (c) => {
    const user = userOf(c);
    const sheet = attempts.sheetOf(idParam(c) ?? 0, user.id, placeParam(c.req.query('stage')));
    if (sheet === null) return notFound(c);
    const fields = { ...sheet.fields, student: user.name };
    return c.body(await sheetAsSvg(files, sheet.sha256, placeParam(c.req.query('page')) ?? 1, fields), 200, {
      'Content-Type': 'image/svg+xml',
    });
  });

  app.get('/api/work/:id/sheet.pdf', allow('student'), async (c) => {
    const user = userOf(c);
    const sheet = attempts.sheetOf(idParam(c) ?? 0, user.id, placeParam(c.req.query('stage')));
    if (sheet === null) return notFound(c);
    const fields = { ...sheet.fields, student: user.name };
    const pdf = await sheetsAsPdf(files, [{ sha256: sheet.sha256, fields }]);
    if (!pdf.ok) return refuseWith(c, 409, pdf.problem.code, pdf.problem.message);
    return pdfBody(c, pdf.value, `${sheet.number} sheet.pdf`);
  });

  app.get('/api/attempts/:id/sheet.svg', allow('signed-in'), async (c) => {
    const sheet = attempts.sheetOfAttempt(idParam(c) ?? 0, userOf(c));
    if (sheet === null) return notFound(c);
    return c.body(await sheetAsSvg(files, sheet.sha256, placeParam(c.req.query('page')) ?? 1, sheet.fields), 200, {
      'Content-Type': 'image/svg+xml',
    });
  });

  app.get('/api/assignments/:id/sheets.pdf', allow('instructor'), async (c) => {
    const pack = attempts.printPack(idParam(c) ?? 0, userOf(c));
    if (pack === null) return notFound(c);
    const pdf = await sheetsAsPdf(files, pack.sheets);
    if (!pdf.ok) return refuseWith(c, 409, pdf.problem.code, pdf.problem.message);
    return pdfBody(c, pdf.value, `${pack.name} sheets.pdf`);
  });

  app.post(
    '/api/work/:id/attempts',
    allow('student'),
    bodyLimit({
      maxSize: MAX_FILE_BYTES + 64 * 1024,
      onError: (c) =>
        refuseWith(
          c,
          413,
          'file-too-large',
          `The file is larger than ${String(MAX_FILE_BYTES / 1024 / 1024)} MB. Export the part alone, without threads or text, and hand in the smaller file.`,
        ),
    }),
    async (c) => {
      const room = await handIns.consume(userOf(c).id).then(
        () => true,
        () => false,
      );
      if (!room)
        return refuseWith(
          c,
          429,
          'too-many-files',
          'You have handed in too many files. Wait ten minutes and try again.',
        );
      const form = await c.req.parseBody().catch(() => null);
      const file = form?.['file'];
      if (!(file instanceof File))
        return refuseWith(c, 400, 'no-file', 'No file came with this hand-in. Choose the file of your model.');
      const unit = v.safeParse(v.optional(LengthUnitSchema), form?.['unit']);
      if (!unit.success)
        return refuseWith(
          c,
          400,
          'bad-input',
          'The unit of the file is not one of mm, cm, m, in, ft. Choose it again.',
        );
      const typedText = typeof form?.['typed'] === 'string' ? form['typed'] : '[]';
      const typed = v.safeParse(v.pipe(v.string(), v.parseJson(), TypedInputsSchema), typedText);
      if (!typed.success)
        return refuseWith(c, 400, 'bad-input', 'The typed numbers could not be read. Type them again.');
      const result = await attempts.handIn({
        assignmentId: idParam(c) ?? 0,
        studentId: userOf(c).id,
        stage: placeParam(typeof form?.['stage'] === 'string' ? form['stage'] : undefined) ?? 1,
        fileName: safeFileName(file.name),
        content: new Uint8Array(await file.arrayBuffer()),
        fileUnit: unit.output ?? null,
        typed: typed.output,
      });
      if (result.ok) return c.json({ attemptId: result.value }, 202);
      const { code, message } = result.problem;
      return refuseWith(c, code in STATUS ? STATUS[code as keyof typeof STATUS] : 400, code, message);
    },
  );

  app.get('/api/attempts/:id', allow('signed-in'), (c) => {
    const detail = attempts.detailFor(idParam(c) ?? 0, userOf(c));
    return detail === null ? notFound(c) : c.json(detail);
  });

  app.get('/api/attempts/:id/model', allow('signed-in'), async (c) => {
    const found = attempts.filesFor(idParam(c) ?? 0, userOf(c));
    if (!found?.modelSha256) return notFound(c);
    return c.body((await files.read(found.modelSha256)).toString('utf8'), 200, { 'Content-Type': 'application/json' });
  });

  app.get('/api/attempts/:id/overlay', allow('signed-in'), async (c) => {
    const found = attempts.overlayFor(idParam(c) ?? 0, userOf(c));
    if (!found?.overlaySha256) return notFound(c);
    return c.body((await files.read(found.overlaySha256)).toString('utf8'), 200, {
      'Content-Type': 'application/json',
    });
  });

  app.get('/api/attempts/:id/overlay.3mf', allow('signed-in'), async (c) => {
    const found = attempts.overlayFor(idParam(c) ?? 0, userOf(c));
    if (!found?.overlaySha256) return notFound(c);
    const overlay = v.parse(OverlaySchema, JSON.parse((await files.read(found.overlaySha256)).toString('utf8')));
    const name = `${found.fileName.replace(/\.[^.]+$/, '')} difference.3mf`;
    return c.body(new Uint8Array(overlayFile(overlay, name)), 200, {
      'Content-Type': 'model/3mf',
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
    });
  });

  app.get('/api/attempts/:id/file', allow('signed-in'), async (c) => {
    const found = attempts.filesFor(idParam(c) ?? 0, userOf(c));
    if (!found) return notFound(c);
    return c.body(new Uint8Array(await files.read(found.fileSha256)), 200, {
      'Content-Type': 'application/octet-stream',
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(found.fileName)}`,
    });
  });
}
