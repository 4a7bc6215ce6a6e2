/** Hand-ins of an assignment that are alike in a way that chance does not explain: for those who review it, never for students. */
import { createHash } from 'node:crypto';
import { setImmediate } from 'node:timers/promises';

import type { Hono } from 'hono';
import { LRUCache } from 'lru-cache';
import * as v from 'valibot';

import type { LikenessAnswer } from '#api';
import { ReportSchema } from '#core/grade';
import { chanceOf, likenesses, traceOf, type HandIn } from '#core/likeness';
import { massOf } from '#core/material';
import { DiagnosisSchema } from '#core/mistake';
import { MassPropertiesSchema } from '#core/solid';
import { joinStaff } from '#server/auth';
import type { Db } from '#server/db';
import { parseExercise } from '#server/exercise';
import type { FileStore } from '#server/files';
import { allow, idParam, notFound, userOf, type AppEnv } from '#server/http';

interface Row {
  readonly attemptId: number;
  readonly studentId: number;
  readonly student: string;
  readonly stage: number;
  readonly fileSha256: string;
  readonly fileBytes: number;
  readonly handedInAt: string;
  readonly buildLog: string;
  readonly massJson: string;
  readonly reportJson: string;
  readonly diagnosisJson: string | null;
}

/** Of a report, what likeness looks at. */
const PartSchema = v.pick(ReportSchema, ['lines', 'typed', 'causes']);

type Trace = Pick<HandIn, 'author' | 'writtenAt' | 'dataHash'>;
const NO_TRACE: Trace = { author: null, writtenAt: null, dataHash: null };
/** Files that are larger are compared as they are, not by what they say. */
const MOST_BYTES = 2_000_000;
const MOST_TRACES = 5000;
/** More hand-ins than this are looked at no further: their pairs grow with the square. */
const MOST_HAND_INS = 400;
/** After so many, other requests have their turn. */
const AT_ONCE = 20;

export interface Likenesses {
  /** Pairs of an assignment, for who may review it; null for others. */
  of(assignmentId: number, userId: number): Promise<LikenessAnswer | null>;
}

export function createLikenesses(db: Db, files: Pick<FileStore, 'read'>): Likenesses {
  const find = db.prepare<[number, number], { documentJson: string; opensAt: string }>(
    `SELECT exercise_revisions.document_json AS documentJson, assignments.opens_at AS opensAt
     FROM assignments JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
     JOIN sections ON sections.id = assignments.section_id ${joinStaff('sections.course_id', 'review')}
     WHERE assignments.id = ? AND course_staff.user_id = ?`,
  );
  const newest = db.prepare<[number, number], Row>(
    `SELECT attempts.id AS attemptId, student_id AS studentId, users.name AS student, stage,
            file_sha256 AS fileSha256, file_size_bytes AS fileBytes, handed_in_at AS handedInAt, build_log AS buildLog,
            measurement_json ->> '$.massProperties' AS massJson, report_json AS reportJson, diagnosis_json AS diagnosisJson
     FROM attempts JOIN reports ON reports.attempt_id = attempts.id JOIN users ON users.id = attempts.student_id
     WHERE attempts.id IN (
       SELECT max(id) FROM attempts WHERE assignment_id = ? AND state = 'graded' GROUP BY student_id, stage)
     ORDER BY attempts.id LIMIT ?`,
  );
  const traces = new LRUCache<string, Trace>({ max: MOST_TRACES });
  const traceOfFile = async ({ fileSha256, fileBytes }: Row): Promise<Trace> => {
    const known = traces.get(fileSha256);
    if (known !== undefined) return known;
    const trace = fileBytes > MOST_BYTES ? NO_TRACE : hashed((await files.read(fileSha256)).toString('latin1'));
    traces.set(fileSha256, trace);
    return trace;
  };
  return {
    async of(assignmentId, userId) {
      const assignment = find.get(assignmentId, userId);
      if (assignment === undefined) return null;
      const { densityGPerCm3 } = parseExercise(assignment.documentJson).material;
      const rows = newest.all(assignmentId, MOST_HAND_INS);
      const byStage = new Map<number, HandIn[]>();
      const older: LikenessAnswer['older'] = [];
      let pending = 0;
      for (const [i, row] of rows.entries()) {
        if (i % AT_ONCE === AT_ONCE - 1) await setImmediate();
        const trace = await traceOfFile(row);
        const handIn = handInOf(row, trace, densityGPerCm3);
        if (!handIn.isRight && row.diagnosisJson === null) pending++;
        byStage.set(row.stage, [...(byStage.get(row.stage) ?? []), handIn]);
        if (trace.writtenAt !== null && Date.parse(trace.writtenAt) < Date.parse(assignment.opensAt) - A_DAY_MS)
          older.push({ attemptId: row.attemptId, student: row.student, writtenAt: trace.writtenAt });
      }
      const nameOf = new Map(rows.map(({ attemptId, student }) => [attemptId, student]));
      const pairs = [...byStage.values()].flatMap(likenesses).map(({ kind, attemptIds, words }) => ({
        kind,
        attempts: attemptIds.map((id) => ({ id, student: nameOf.get(id) ?? '' })),
        words: [...words],
      }));
      return { looked: rows.length, pending, pairs, older };
    },
  };
}

/** A clock may be a day wrong. */
const A_DAY_MS = 24 * 3600_000;

function hashed(text: string): Trace {
  const { author, writtenAt, data } = traceOf(text);
  return { author, writtenAt, dataHash: data === null ? null : createHash('sha256').update(data).digest('hex') };
}

function handInOf(row: Row, trace: Trace, densityGPerCm3: number): HandIn {
  const report = v.parse(PartSchema, JSON.parse(row.reportJson));
  const massProperties = v.parse(MassPropertiesSchema, JSON.parse(row.massJson));
  const [x, y, z] = massProperties.centroidMm;
  return {
    ...trace,
    attemptId: row.attemptId,
    studentId: row.studentId,
    fileSha256: row.fileSha256,
    buildLog: row.buildLog,
    isRight: report.lines.every(({ verdict }) => verdict === 'right'),
    massProperties,
    chance: chanceOfRow(row, report),
    typed: report.typed.flatMap(({ name, text, value, ofFile }) => {
      const decimals = /^\s*-?\d+(?:[.,](\d+))?\s*$/.exec(text)?.[1]?.length ?? 0;
      const written = Number(text.replace(',', '.'));
      if (value === null || !Number.isFinite(written) || written === 0) return [];
      // Half of the last digit, in the unit of the value.
      const step = Math.abs(value / written) * 0.5 * 10 ** -decimals;
      return [{ name, value, step, isOwn: ofFile !== 'no' }];
    }),
    own: { mass: massOf(massProperties.volumeMm3, densityGPerCm3), volume: massProperties.volumeMm3, x, y, z },
  };
}

/** How likely this wrong part is; 1, which nothing is told of, where it has not been looked into yet. */
function chanceOfRow({ diagnosisJson }: Row, { causes }: v.InferOutput<typeof PartSchema>): number {
  if (diagnosisJson === null) return 1;
  const [best] = v.parse(DiagnosisSchema, JSON.parse(diagnosisJson)).hypotheses;
  const priors = best?.fit === 'complete' ? best.mistakes.map(({ prior }) => prior) : null;
  return chanceOf(priors, causes.filter(({ instead, explains }) => !instead && explains === 'observed').length);
}

export function likenessRoutes(app: Hono<AppEnv>, found: Likenesses): void {
  app.get('/api/assignments/:id/alike', allow('review'), async (c) => {
    const answer = await found.of(idParam(c) ?? 0, userOf(c).id);
    return answer === null ? notFound(c) : c.json(answer);
  });
}
