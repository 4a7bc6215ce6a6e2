import type { Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import * as v from 'valibot';

import { KeyToPrintSchema, MAX_FILE_BYTES, NewExerciseSchema, type RevisionJobAnswer } from '#api';
import { filesOf, parseExercise, type FileOfExercise, type ModelFile } from '#core/exercise';
import type { Result } from '#core/problem';
import { keyRows } from '#core/variant';
import { drawingKind, packExercise } from '#server/archive';
import type { FileStore } from '#server/files';
import type { Runner } from '#server/jobs';
import type { Printer } from '#server/jobs';
import {
  allow,
  type AppEnv,
  idParam,
  jsonBody,
  notFound,
  refuseProblem,
  refuseWith,
  safeFileName,
  userOf,
  pdfBody,
} from '#server/http';

import type { Drafts } from './drafts.ts';
import type { ExerciseFiles } from './exercise-files.ts';
import type { RevisionJobs } from './revision-jobs.ts';
import type { Exercises } from './revisions.ts';

const DRAFT_BYTES = 2 * 1024 * 1024;
const ARCHIVE_BYTES = 40 * 1024 * 1024;

const SaveSchema = v.object({ version: v.pipe(v.number(), v.integer(), v.minValue(0)), document: v.unknown() });
const VersionSchema = v.object({ version: v.pipe(v.number(), v.integer(), v.minValue(0)) });

const upTo = (maxSize: number) =>
  bodyLimit({ maxSize, onError: (c) => refuseWith(c, 'too-large', 'This is larger than any exercise needs.') });

export interface EditorParts {
  readonly exercises: Exercises;
  readonly drafts: Drafts;
  readonly revisionJobs: RevisionJobs;
  readonly exerciseFiles: ExerciseFiles;
  readonly files: FileStore;
  readonly runner: Pick<Runner, 'unpack'>;
  readonly printer: Pick<Printer, 'table'>;
}

/** Routes of the editor: drafts, model files, revisions, archives. */
export function draftRoutes(app: Hono<AppEnv>, parts: EditorParts): void {
  newExerciseRoutes(app, parts);
  ownDraftRoutes(app, parts);
  fileRoutes(app, parts);
  revisionRoutes(app, parts);
  takeAwayRoutes(app, parts);
}

function newExerciseRoutes(app: Hono<AppEnv>, { exercises, drafts, exerciseFiles, runner }: EditorParts): void {
  app.post('/api/exercises', allow('edit-exercises'), jsonBody(NewExerciseSchema), (c) => {
    const user = userOf(c);
    const course = exercises.courseOf(user.id, c.req.valid('json').courseId);
    if (course === null) return refuseWith(c, 'no-course', 'You teach no course that an exercise could go to.');
    const created = drafts.create(course, user.id, c.req.valid('json'));
    if (!created.ok) return refuseProblem(c, created.problem);
    return c.json({ id: created.value }, 201);
  });

  app.post('/api/exercises/import', allow('edit-exercises'), upTo(ARCHIVE_BYTES), async (c) => {
    const user = userOf(c);
    const wanted = Number(c.req.query('course'));
    const course = exercises.courseOf(user.id, Number.isSafeInteger(wanted) && wanted > 0 ? wanted : undefined);
    if (course === null) return refuseWith(c, 'no-course', 'You teach no course that an exercise could go to.');
    const unpacked = await runner.unpack(new Uint8Array(await c.req.arrayBuffer()));
    if (unpacked.kind === 'refused') return refuseProblem(c, unpacked.problem);
    if (unpacked.kind !== 'done')
      return refuseWith(
        c,
        'bad-archive',
        'This archive could not be read: it took too long, or more memory than there is.',
      );
    const { exercise, attached } = unpacked.value;
    const adopted = drafts.adopt(course, user.id, exercise);
    if (!adopted.ok) return refuseProblem(c, adopted.problem);
    for (const { fileName, content } of attached) await exerciseFiles.adopt(adopted.value, fileName, content);
    return c.json({ id: adopted.value }, 201);
  });
}

function ownDraftRoutes(app: Hono<AppEnv>, { drafts, exerciseFiles }: EditorParts): void {
  app.get('/api/exercises/:id/draft', allow('read-course'), (c) => {
    const draft = drafts.find(idParam(c) ?? 0, userOf(c).id, 'read-course');
    return draft === null ? notFound(c) : c.json(draft);
  });

  app.put('/api/exercises/:id/draft', allow('edit-exercises'), upTo(DRAFT_BYTES), jsonBody(SaveSchema), (c) => {
    const user = userOf(c);
    const id = idParam(c) ?? 0;
    const before = drafts.find(id, user.id, 'edit-exercises');
    if (before === null) return notFound(c);
    const { version, document } = c.req.valid('json');
    const parsed = parseExercise(document);
    if (!parsed.ok) return refuseProblem(c, parsed.problem);
    if (parsed.value.number !== before.document.number)
      return refuseWith(c, 'number-fixed', 'The number of an exercise cannot be changed.');
    const lost = filesOf(parsed.value).find(({ sha256 }) => !exerciseFiles.has(id, sha256));
    if (lost !== undefined)
      return refuseWith(c, 'no-file', `The file "${lost.fileName}" is not at hand. Upload it again.`);
    const saved = drafts.save(id, user.id, version, parsed.value);
    if (saved.kind === 'saved') return c.json({ version: saved.version, updatedAt: saved.updatedAt });
    const { kind: _, ...conflict } = saved;
    const message = `${conflict.updatedBy} saved this exercise in another window. Look at that version, or keep yours.`;
    return c.json({ error: { code: 'conflict', message }, ...conflict }, 409);
  });
}

/** Models, drawings and pages that belong to an exercise. */
function fileRoutes(app: Hono<AppEnv>, { drafts, exerciseFiles, files }: EditorParts): void {
  const fileLimit = bodyLimit({
    maxSize: MAX_FILE_BYTES,
    onError: (c) => refuseWith(c, 'too-large', `The file is larger than ${String(MAX_FILE_BYTES / 1024 / 1024)} MB.`),
  });
  const upload = (
    path: 'models' | 'drawings' | 'pages',
    put: (exerciseId: number, name: string, content: Uint8Array) => Promise<Result<ModelFile | FileOfExercise>>,
  ): void => {
    app.post(`/api/exercises/:id/${path}`, allow('edit-exercises'), fileLimit, async (c) => {
      const draft = drafts.find(idParam(c) ?? 0, userOf(c).id, 'edit-exercises');
      if (draft === null) return notFound(c);
      const name = safeFileName(c.req.query('name') ?? '');
      const stored = await put(draft.id, name, new Uint8Array(await c.req.arrayBuffer()));
      return stored.ok ? c.json(stored.value, 201) : refuseProblem(c, stored.problem);
    });
  };
  upload('models', (id, name, content) => exerciseFiles.putModel(id, name, content));
  upload('drawings', (id, name, content) => exerciseFiles.putDrawing(id, name, content));
  upload('pages', (id, _, content) => exerciseFiles.putPage(id, content));

  // As a download: an uploaded file is never opened as a page of this application.
  app.get('/api/exercises/:id/files/:sha256', allow('read-course'), async (c) => {
    const draft = drafts.find(idParam(c) ?? 0, userOf(c).id, 'read-course');
    const sha256 = c.req.param('sha256');
    if (draft === null || !exerciseFiles.has(draft.id, sha256)) return notFound(c);
    const content = new Uint8Array(await files.read(sha256));
    return c.body(content, 200, {
      'Content-Type': drawingKind(content) === 'png' ? 'image/png' : 'application/octet-stream',
      'Content-Disposition': 'attachment',
    });
  });
}

function revisionRoutes(app: Hono<AppEnv>, { exercises, drafts, revisionJobs }: EditorParts): void {
  app.get('/api/exercises/:id/revisions', allow('read-course'), (c) => {
    const draft = drafts.find(idParam(c) ?? 0, userOf(c).id, 'read-course');
    return draft === null ? notFound(c) : c.json({ revisions: [...exercises.revisionsOf(draft.id)] });
  });

  app.get('/api/exercises/:id/revisions/:number', allow('read-course'), (c) => {
    const draft = drafts.find(idParam(c) ?? 0, userOf(c).id, 'read-course');
    const document = draft && exercises.documentOf(draft.id, idParam(c, 'number') ?? 0);
    return document === null ? notFound(c) : c.json({ document });
  });

  app.post('/api/exercises/:id/revisions', allow('edit-exercises'), jsonBody(VersionSchema), (c) => {
    const user = userOf(c);
    const draft = drafts.find(idParam(c) ?? 0, user.id, 'edit-exercises');
    if (draft === null) return notFound(c);
    if (draft.version !== c.req.valid('json').version)
      return refuseWith(c, 'conflict', 'The draft was changed in the meantime. Look at it once more.');
    const begun = revisionJobs.begin(draft.id, user.id, draft.document);
    if (!begun.ok) return refuseProblem(c, begun.problem);
    return c.json({ job: revisionJobs.of(draft.id) } satisfies RevisionJobAnswer, 202);
  });

  app.get('/api/exercises/:id/revision-job', allow('read-course'), (c) => {
    const draft = drafts.find(idParam(c) ?? 0, userOf(c).id, 'read-course');
    return draft === null ? notFound(c) : c.json({ job: revisionJobs.of(draft.id) } satisfies RevisionJobAnswer);
  });
}

/** The exercise as an archive, and its key on paper. */
function takeAwayRoutes(app: Hono<AppEnv>, { exercises, drafts, files, printer }: EditorParts): void {
  app.get('/api/exercises/:id/export.zip', allow('read-course'), async (c) => {
    const user = userOf(c);
    const draft = drafts.find(idParam(c) ?? 0, user.id, 'read-course');
    if (draft === null) return notFound(c);
    const row = exercises.findFor(draft.id, user.id);
    const read = async (sha256: string) => new Uint8Array(await files.read(sha256));
    const part = draft.document.model === undefined ? row?.partSha256 : undefined;
    const attached = await Promise.all(filesOf(draft.document).map(async ({ sha256 }) => read(sha256)));
    const archive = packExercise(draft.document, part === undefined ? null : await read(part), attached);
    return c.body(new Uint8Array(archive), 200, {
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename="${draft.document.number.replace(/[^\w.-]/g, '_')}.zip"`,
    });
  });

  app.post(
    '/api/exercises/:id/key.pdf',
    allow('edit-exercises'),
    upTo(DRAFT_BYTES),
    jsonBody(KeyToPrintSchema),
    async (c) => {
      const draft = drafts.find(idParam(c) ?? 0, userOf(c).id, 'edit-exercises');
      if (draft === null) return notFound(c);
      const { document } = draft;
      const { number, title, material, recipe } = document;
      const pdf = await printer.table({
        ...keyRows(c.req.valid('json').entries, document),
        title: `${number} ${title}: answer key`,
        note: `${material.name}, ${String(material.densityGPerCm3)} g/cm³ (${material.source}). Threads are not part of volume and mass. Not for students.`,
        paper: recipe.unit === 'mm' ? 'A4' : 'LETTER',
      });
      return pdf.ok ? pdfBody(c, pdf.value, `${number}-key.pdf`) : refuseProblem(c, pdf.problem);
    },
  );
}
