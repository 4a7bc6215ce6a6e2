import type { Hono } from 'hono';
import * as v from 'valibot';

import { RosterApplySchema, RosterTextSchema, SlipsSchema } from '#api';
import type { CourseManagement } from '#server/course';
import {
  allow,
  idParam,
  jsonBody,
  notFound,
  pdfBody,
  refuseProblem,
  refuseWith,
  userOf,
  type AppEnv,
} from '#server/http';

import type { Printer } from '#server/jobs';

import type { Rosters } from './rosters.ts';

const UndoSchema = v.strictObject({ changeId: v.number() });

export interface RosterRouteParts {
  readonly rosters: Rosters;
  readonly management: Pick<CourseManagement, 'managedSection'>;
  /** The address that people type; null where it is that of the request. */
  readonly publicUrl: URL | null;
  readonly printer: Pick<Printer, 'slips'>;
}

/** Routes of the students of a section, for those who manage its course. */
export function rosterRoutes(app: Hono<AppEnv>, { rosters, management, publicUrl, printer }: RosterRouteParts): void {
  const mayManage = (sectionId: number, userId: number): boolean =>
    management.managedSection(sectionId, userId) !== null;

  app.get('/api/sections/:id/students', allow('manage-course'), (c) => {
    const sectionId = idParam(c) ?? 0;
    const roster = mayManage(sectionId, userOf(c).id) ? rosters.of(sectionId) : null;
    return roster === null ? notFound(c) : c.json(roster);
  });

  app.post('/api/sections/:id/students/preview', allow('manage-course'), jsonBody(RosterTextSchema), (c) => {
    const sectionId = idParam(c) ?? 0;
    if (!mayManage(sectionId, userOf(c).id)) return notFound(c);
    const preview = rosters.preview(sectionId, c.req.valid('json').text);
    return preview.ok ? c.json(preview.value) : refuseProblem(c, preview.problem);
  });

  app.post('/api/sections/:id/students', allow('manage-course'), jsonBody(RosterApplySchema), (c) => {
    const sectionId = idParam(c) ?? 0;
    if (!mayManage(sectionId, userOf(c).id)) return notFound(c);
    const applied = rosters.apply(sectionId, userOf(c), c.req.valid('json'));
    return applied.ok ? c.json(applied.value) : refuseProblem(c, applied.problem);
  });

  app.post('/api/sections/:id/students/undo', allow('manage-course'), jsonBody(UndoSchema), (c) => {
    const sectionId = idParam(c) ?? 0;
    if (!mayManage(sectionId, userOf(c).id)) return notFound(c);
    const undone = rosters.undo(sectionId, userOf(c), c.req.valid('json').changeId);
    return undone.ok ? c.json({}) : refuseProblem(c, undone.problem);
  });

  app.post('/api/sections/:id/slips.pdf', allow('manage-course'), jsonBody(SlipsSchema), async (c) => {
    const sectionId = idParam(c) ?? 0;
    const roster = mayManage(sectionId, userOf(c).id) ? rosters.of(sectionId) : null;
    if (roster === null) return notFound(c);
    const people = rosters.newCodes(sectionId, userOf(c), c.req.valid('json').studentIds);
    if (people.length === 0)
      return refuseWith(c, 'no-slips', 'Everybody of this section has signed in. Choose whose slip is printed anew.');
    const { course, name } = roster.section;
    const address = `${(publicUrl ?? new URL(c.req.url)).origin}/welcome`;
    const pdf = await printer.slips({ title: `${course}, ${name}`, address, people });
    if (!pdf.ok) return refuseProblem(c, pdf.problem);
    return pdfBody(c, pdf.value, `${name} slips.pdf`);
  });

  app.post('/api/sections/:id/students/:userId/code', allow('manage-course'), (c) => {
    const sectionId = idParam(c) ?? 0;
    if (!mayManage(sectionId, userOf(c).id)) return notFound(c);
    const [made] = rosters.newCodes(sectionId, userOf(c), [idParam(c, 'userId') ?? 0]);
    return made === undefined ? notFound(c) : c.json({ login: made.login, code: made.code });
  });
}
