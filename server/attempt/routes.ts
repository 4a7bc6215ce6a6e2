import type { Hono } from 'hono';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import * as v from 'valibot';

import { MAX_FILE_BYTES, TypedInputsSchema, type DisplayModel } from '#api';
import { OverlaySchema, overlayFile } from '#core/overlay';
import { refuse, succeed, type Result } from '#core/problem';
import { LengthUnitSchema } from '#core/quantity';
import { forDisplay } from '#core/solid';
import { placeBack, type Placement } from '#core/vector';
import type { Printer } from '#server/jobs';
import { sheetAsSvg } from '#server/sheet';
import type { FileStore } from '#server/files';
import type { References } from '#server/reference';
import {
  allow,
  fileHeaders,
  type AppEnv,
  idParam,
  notFound,
  pdfBody,
  placeParam,
  receiveForm,
  refuseProblem,
  refuseWith,
  safeFileName,
  userOf,
  takesRoom,
} from '#server/http';

import type { Attempts } from './attempts.ts';
import type { HandInRequest } from './hand-in.ts';
import { printedOf } from './printed.ts';

/** What a field of a hand-in may hold: a list of build steps may be far too long, which is said by whoever reads it. */
const MAX_FIELD_BYTES = 2 * 1024 * 1024;

/** Files of one student in ten minutes: far more than anyone needs, and far less than would fill the disk. */
const HAND_INS = { points: 120, duration: 600 } as const;

/** What a page calls a hand-in. */
const KEY = /^[\w-]{8,64}$/;

const FILE_TOO_LARGE = {
  code: 'file-too-large',
  message: `The file is larger than ${String(MAX_FILE_BYTES / 1024 / 1024)} MB. Export the part alone, without threads or text, and hand in the smaller file.`,
} as const;

/** A reference laid where the model that was handed in lies, so that both can be seen in one view. */
function inFrameOf(placement: Placement, { bounds, mesh }: DisplayModel): DisplayModel {
  const moved = (values: readonly number[]): number[] => {
    const points: number[] = [];
    for (let i = 0; i + 2 < values.length; i += 3)
      points.push(...placeBack(placement, [values[i] ?? 0, values[i + 1] ?? 0, values[i + 2] ?? 0]));
    return points;
  };
  const positions = moved(mesh.positions);
  return {
    bounds,
    mesh: { ...mesh, positions, edges: mesh.edges.map((edge) => ({ ...edge, points: moved(edge.points) })) },
  };
}

/** Routes of a student's work, and of what was handed in: to be read by its student and by those who teach the course. */
export function attemptRoutes(
  app: Hono<AppEnv>,
  {
    attempts,
    files,
    references,
    printer,
  }: {
    readonly attempts: Attempts;
    readonly files: FileStore;
    readonly references: References;
    readonly printer: Printer;
  },
): void {
  workRoutes(app, attempts);
  sheetRoutes(app, attempts, files, printer);
  handInRoute(app, attempts, files);
  reportRoutes(app, attempts, printer);
  fileRoutes(app, attempts, files, references);
}

function workRoutes(app: Hono<AppEnv>, attempts: Attempts): void {
  app.get('/api/work', allow('work'), (c) => c.json({ work: attempts.workOf(userOf(c).id) }));

  app.get('/api/work/:id', allow('work'), (c) => {
    const detail = attempts.workDetail(idParam(c) ?? 0, userOf(c).id, placeParam(c.req.query('stage')));
    return detail === null ? notFound(c) : c.json(detail);
  });
}

/** Sheets as a student, a reviewer and a printer get them. */
function sheetRoutes(app: Hono<AppEnv>, attempts: Attempts, files: FileStore, printer: Printer): void {
  app.get('/api/work/:id/sheet.svg', allow('work'), async (c) => {
    const user = userOf(c);
    const sheet = attempts.sheetOf(idParam(c) ?? 0, user.id, placeParam(c.req.query('stage')));
    if (sheet === null) return notFound(c);
    const fields = { ...sheet.fields, student: user.name };
    return c.body(await sheetAsSvg(files, sheet.sha256, placeParam(c.req.query('page')) ?? 1, fields), 200, {
      'Content-Type': 'image/svg+xml',
    });
  });

  app.get('/api/work/:id/sheet.pdf', allow('work'), async (c) => {
    const user = userOf(c);
    const sheet = attempts.sheetOf(idParam(c) ?? 0, user.id, placeParam(c.req.query('stage')));
    if (sheet === null) return notFound(c);
    const fields = { ...sheet.fields, student: user.name };
    const pdf = await printer.sheets([{ sha256: sheet.sha256, fields }]);
    if (!pdf.ok) return refuseProblem(c, pdf.problem);
    return pdfBody(c, pdf.value, `${sheet.number} sheet.pdf`);
  });

  app.get('/api/attempts/:id/sheet.svg', allow('signed-in'), async (c) => {
    const sheet = attempts.sheetOfAttempt(idParam(c) ?? 0, userOf(c));
    if (sheet === null) return notFound(c);
    return c.body(await sheetAsSvg(files, sheet.sha256, placeParam(c.req.query('page')) ?? 1, sheet.fields), 200, {
      'Content-Type': 'image/svg+xml',
    });
  });

  app.get('/api/assignments/:id/sheets.pdf', allow('read-course'), async (c) => {
    const pack = attempts.printPack(idParam(c) ?? 0, userOf(c));
    if (pack === null) return notFound(c);
    const pdf = await printer.sheets(pack.sheets);
    if (!pdf.ok) return refuseProblem(c, pdf.problem);
    return pdfBody(c, pdf.value, `${pack.name} sheets.pdf`);
  });
}

function handInRoute(app: Hono<AppEnv>, attempts: Attempts, files: FileStore): void {
  const handIns = new RateLimiterMemory(HAND_INS);
  app.post('/api/work/:id/attempts', allow('work'), async (c) => {
    const room = await takesRoom(handIns, userOf(c).id);
    if (!room)
      return refuseWith(c, 'too-many-files', 'You have handed in too many files. Wait ten minutes and try again.');
    const form = await receiveForm(c.req.raw, files, {
      fileBytes: MAX_FILE_BYTES,
      fieldBytes: MAX_FIELD_BYTES,
      tooLarge: FILE_TOO_LARGE,
    });
    if (!form.ok) return refuseProblem(c, form.problem);
    const { fields, file } = form.value;
    if (file === null)
      return refuseWith(c, 'no-file', 'No file came with this hand-in. Choose the file of your model.');
    const said = saidWith(fields);
    const result = said.ok
      ? await attempts.handIn({
          ...said.value,
          assignmentId: idParam(c) ?? 0,
          studentId: userOf(c).id,
          fileName: safeFileName(file.fileName),
          content: file.incoming,
        })
      : said;
    if (result.ok) return c.json({ attemptId: result.value }, 202);
    await files.discard(file.incoming);
    return refuseProblem(c, result.problem);
  });
}

/** What the fields of a form say beside its file. */
function saidWith(
  fields: Readonly<Record<string, string>>,
): Result<Pick<HandInRequest, 'stage' | 'fileUnit' | 'typed' | 'buildLog' | 'key'>> {
  const unit = v.safeParse(v.optional(LengthUnitSchema), fields['unit']);
  if (!unit.success)
    return refuse('bad-input', 'The unit of the file is not one of mm, cm, m, in, ft. Choose it again.');
  const typed = v.safeParse(v.pipe(v.string(), v.parseJson(), TypedInputsSchema), fields['typed'] ?? '[]');
  if (!typed.success) return refuse('bad-input', 'The typed numbers could not be read. Type them again.');
  const key = fields['key'] ?? '';
  return succeed({
    stage: placeParam(fields['stage']) ?? 1,
    fileUnit: unit.output ?? null,
    typed: typed.output,
    // Forms carry line ends of their own.
    buildLog: (fields['log'] ?? '').replaceAll('\r\n', '\n'),
    key: KEY.test(key) ? key : null,
  });
}

function reportRoutes(app: Hono<AppEnv>, attempts: Attempts, printer: Printer): void {
  app.get('/api/attempts/:id', allow('signed-in'), (c) => {
    const detail = attempts.detailFor(idParam(c) ?? 0, userOf(c));
    return detail === null ? notFound(c) : c.json(detail);
  });

  app.get('/api/attempts/:id/report.pdf', allow('signed-in'), async (c) => {
    const detail = attempts.detailFor(idParam(c) ?? 0, userOf(c));
    if (!detail?.report) return notFound(c);
    const pdf = await printer.report(printedOf(detail, detail.report));
    if (!pdf.ok) return refuseProblem(c, pdf.problem);
    return pdfBody(c, pdf.value, `${detail.assignment.exerciseNumber} ${detail.student.name} report.pdf`);
  });
}

/** Models, differences and files of an attempt. */
function fileRoutes(app: Hono<AppEnv>, attempts: Attempts, files: FileStore, references: References): void {
  app.get('/api/attempts/:id/model', allow('signed-in'), async (c) => {
    const found = attempts.filesFor(idParam(c) ?? 0, userOf(c));
    if (!found?.modelSha256) return notFound(c);
    return c.body((await files.read(found.modelSha256)).toString('utf8'), 200, { 'Content-Type': 'application/json' });
  });

  app.get('/api/attempts/:id/reference', allow('read-course'), async (c) => {
    const found = attempts.referenceFor(idParam(c) ?? 0, userOf(c));
    if (found === null) return notFound(c);
    const { solid } = await references.at(found.sha256);
    return c.json(inFrameOf(found.placement, { bounds: solid.bounds, mesh: forDisplay(solid.mesh) }));
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
    return c.body(new Uint8Array(overlayFile(overlay, name)), 200, fileHeaders(name, 'model/3mf'));
  });

  app.get('/api/attempts/:id/file', allow('signed-in'), async (c) => {
    const found = attempts.filesFor(idParam(c) ?? 0, userOf(c));
    if (!found) return notFound(c);
    return c.body(
      new Uint8Array(await files.read(found.fileSha256)),
      200,
      fileHeaders(found.fileName, 'application/octet-stream'),
    );
  });
}
