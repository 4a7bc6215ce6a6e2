import type { Hono } from 'hono';
import { LRUCache } from 'lru-cache';
import * as v from 'valibot';

import type { CoverageAnswer, ExerciseDetail, FurtherWarnings, StudiesAnswer, VariantBlurs } from '#api';
import type { Exercise } from '#core/exercise';
import { blurOf, ProposalSchema, type Coverage, type VariantBlur } from '#core/mistake';
import { refuse, succeed, unwrap, type Result } from '#core/problem';
import { evaluateParameters } from '#core/quantity';
import { extensionOf } from '#server/archive';
import type { Printer } from '#server/jobs';
import { furtherWarnings, sheetAsDxf, sheetAsSvg, warningsOfSheet } from '#server/sheet';
import type { FileStore } from '#server/files';
import type { Atlases, Runner, Studies } from '#server/jobs';
import type { References } from '#server/reference';
import { allow, type AppEnv, idParam, notFound, pdfBody, placeParam, refuseProblem, userOf } from '#server/http';

import { parseExercise, type Exercises } from './revisions.ts';

export interface ExerciseParts {
  readonly exercises: Exercises;
  readonly files: FileStore;
  readonly references: References;
  readonly runner: Pick<Runner, 'coverage'>;
  readonly atlases: Pick<Atlases, 'stateOf' | 'retry'>;
  readonly studies: Pick<Studies, 'of'>;
  readonly printer: Pick<Printer, 'sheets'>;
}

type FurtherSheet = ReturnType<Exercises['furtherSheetsOf']>[number];

const MOST_COVERAGES = 100;

/** Routes of exercises as they can be issued. */
export function exerciseRoutes(app: Hono<AppEnv>, parts: ExerciseParts): void {
  listRoutes(app, parts);
  warningRoute(app, parts);
  studyRoute(app, parts);
  coverageRoutes(app, parts);
  sheetRoutes(app, parts);
  modelRoutes(app, parts);
}

function listRoutes(app: Hono<AppEnv>, { exercises, files, references }: ExerciseParts): void {
  app.get('/api/exercises/:id', allow('read-course'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const document = parseExercise(row.documentJson);
    const reference = await references.at(row.referenceSha256);
    return c.json({
      id: row.id,
      revision: row.revision,
      revisionId: row.revisionId,
      createdAt: row.createdAt,
      document,
      materialName: document.material.name,
      densityGPerCm3: reference.densityGPerCm3,
      targets: [...reference.targets],
      massProperties: reference.solid.massProperties,
      values: { ...unwrap(evaluateParameters(document.recipe.parameters, document.recipe.unit)) },
      sheetWarnings: await warningsOfSheet(files, row.sheetSha256),
    } satisfies ExerciseDetail);
  });
}

/** What the sheets of variants and further stages leave out. */
function warningRoute(app: Hono<AppEnv>, { exercises, files }: ExerciseParts): void {
  /** Sheets of a revision never change either, and there may be hundreds. */
  const warnings = new LRUCache<number, Awaited<ReturnType<typeof furtherWarnings<FurtherSheet>>>>({
    max: MOST_COVERAGES,
  });

  app.get('/api/exercises/:id/warnings', allow('read-course'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const { variants } = parseExercise(row.documentJson);
    const known = warnings.get(row.revisionId);
    const found = known ?? (await furtherWarnings(files, row.sheetSha256, exercises.furtherSheetsOf(row.revisionId)));
    warnings.set(row.revisionId, found);
    const parts = found.map(({ sheet: { variant, stage }, warnings: own }) => {
      const inStage = stage > 1 ? `stage ${String(stage)}` : '';
      const name = variants[variant]?.name;
      const part = [name === undefined ? '' : `variant ${name}`, inStage].filter((text) => text !== '').join(', ');
      return { part: part.charAt(0).toUpperCase() + part.slice(1), warnings: [...own] };
    });
    return c.json({ parts } satisfies FurtherWarnings);
  });
}

/** What the sheets of a revision leave open, as far as it is known. */
function studyRoute(app: Hono<AppEnv>, { exercises, studies }: ExerciseParts): void {
  app.get('/api/exercises/:id/open', allow('read-course'), (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    return c.json({ stages: [...studies.of(row.revisionId)] } satisfies StudiesAnswer);
  });
}

/** Which mistakes the checks tell apart. */
function coverageRoutes(app: Hono<AppEnv>, { exercises, files, runner, atlases }: ExerciseParts): void {
  /** Revisions and atlases never change, and pages ask again until the last variant is tested. */
  const coverages = new LRUCache<string, Coverage>({ max: MOST_COVERAGES });
  async function coverageIn(
    revisionId: number,
    document: Exercise,
    sha256: string | null,
  ): Promise<Result<Coverage | null>> {
    if (sha256 === null) return succeed(null);
    const key = `${String(revisionId)} ${sha256}`;
    const known = coverages.get(key);
    if (known !== undefined) return succeed(known);
    const outcome = await runner.coverage({ exercise: document, atlasPath: files.pathOf(sha256) });
    if (outcome.kind !== 'done')
      return refuse('not-measured', 'The mistakes could not be looked through now. Try again in a minute.');
    coverages.set(key, outcome.value);
    return succeed(outcome.value);
  }

  app.get('/api/exercises/:id/coverage', allow('read-course'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const { atlasSha256, proposalsJson, ...progress } = atlases.stateOf(row.revisionId);
    const coverage = await coverageIn(row.revisionId, parseExercise(row.documentJson), atlasSha256);
    if (!coverage.ok) return refuseProblem(c, coverage.problem);
    return c.json({
      ...progress,
      coverage: coverage.value,
      proposals: v.parse(v.array(ProposalSchema), JSON.parse(proposalsJson)),
    } satisfies CoverageAnswer);
  });

  app.post('/api/exercises/:id/coverage/retry', allow('edit-exercises'), (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    atlases.retry(row.revisionId);
    return c.json({}, 202);
  });

  app.get('/api/exercises/:id/coverage/variants', allow('read-course'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const document = parseExercise(row.documentJson);
    const drawn = await coverageIn(row.revisionId, document, atlases.stateOf(row.revisionId).atlasSha256);
    if (!drawn.ok) return refuseProblem(c, drawn.problem);
    let [tested, waiting] = [0, 0];
    const blurs: VariantBlur[] = [];
    for (const [variant, { name }] of document.variants.entries()) {
      const { state, atlasSha256 } = atlases.stateOf(row.revisionId, variant);
      if (state === 'waiting' || state === 'running') waiting++;
      const own = await coverageIn(row.revisionId, document, atlasSha256);
      if (!own.ok) return refuseProblem(c, own.problem);
      if (own.value === null || drawn.value === null) continue;
      tested++;
      const blur = blurOf(name, own.value, drawn.value);
      if (blur.keepVolume.length + blur.alike.length > 0) blurs.push(blur);
    }
    return c.json({ variants: document.variants.length, tested, waiting, blurs } satisfies VariantBlurs);
  });
}

function sheetRoutes(app: Hono<AppEnv>, { exercises, files, printer }: ExerciseParts): void {
  app.get('/api/exercises/:id/sheet.svg', allow('read-course'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const fields = { revision: String(row.revision) };
    const svg = await sheetAsSvg(files, row.sheetSha256, placeParam(c.req.query('page')) ?? 1, fields);
    return c.body(svg, 200, {
      'Content-Type': 'image/svg+xml',
    });
  });

  app.get('/api/exercises/:id/sheet.pdf', allow('read-course'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const fields = { revision: String(row.revision) };
    const pdf = await printer.sheets([{ sha256: row.sheetSha256, fields }]);
    if (!pdf.ok) return refuseProblem(c, pdf.problem);
    return pdfBody(c, pdf.value, `${parseExercise(row.documentJson).number} sheet.pdf`);
  });

  app.get('/api/exercises/:id/sheet.dxf', allow('read-course'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const fields = { revision: String(row.revision) };
    const dxf = await sheetAsDxf(files, row.sheetSha256, placeParam(c.req.query('page')) ?? 1, fields);
    if (!dxf.ok) return refuseProblem(c, dxf.problem);
    return c.body(dxf.value, 200, {
      'Content-Type': 'image/vnd.dxf',
      'Content-Disposition': `attachment; filename="${parseExercise(row.documentJson).number.replace(/[^\w.-]/g, '_')} sheet.dxf"`,
    });
  });
}

/** The reference, to be looked at and to be taken away. */
function modelRoutes(app: Hono<AppEnv>, { exercises, files, references }: ExerciseParts): void {
  app.get('/api/exercises/:id/model', allow('read-course'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const reference = await references.at(row.referenceSha256);
    return c.json({ bounds: reference.solid.bounds, mesh: reference.solid.mesh });
  });

  app.get('/api/exercises/:id/reference', allow('read-course'), async (c) => {
    const row = exercises.findFor(idParam(c) ?? 0, userOf(c).id);
    if (row === null) return notFound(c);
    const { number, model } = parseExercise(row.documentJson);
    const ending = model === undefined ? 'step' : extensionOf(model.fileName);
    return c.body(new Uint8Array(await files.read(row.partSha256)), 200, {
      'Content-Type': 'application/octet-stream',
      'Content-Disposition': `attachment; filename="${number}-reference.${ending}"`,
    });
  });
}
