import type { Hono } from 'hono';

import {
  ChangeCourseSchema,
  ChangeSectionSchema,
  ChangeStaffSchema,
  NewCourseSchema,
  NewSectionSchema,
  NewStaffSchema,
  type AuditEntry,
} from '#api';
import type { Result } from '#core/problem';
import type { Audit } from '#server/audit';
import { allow, idParam, jsonBody, notFound, refuseProblem, userOf, type AppEnv } from '#server/http';
import type { Context } from 'hono';

import type { Courses } from './courses.ts';
import type { CourseManagement } from './manage/index.ts';

export interface CourseRouteParts {
  readonly courses: Pick<Courses, 'sectionsReadBy' | 'readBy'>;
  readonly management: CourseManagement;
  readonly audit: Audit;
}

const done = (c: Context<AppEnv>, result: Result<unknown>): Response =>
  result.ok ? c.json({}) : refuseProblem(c, result.problem);

/** Routes of courses: those of their staff, and what an instructor changes of them. */
export function courseRoutes(app: Hono<AppEnv>, { courses, management, audit }: CourseRouteParts): void {
  app.get('/api/sections', allow('read-course'), (c) => c.json({ sections: courses.sectionsReadBy(userOf(c).id) }));

  app.get('/api/courses', allow('read-course'), (c) => c.json({ courses: [...management.listFor(userOf(c).id)] }));

  app.post('/api/courses', allow('manage-course'), jsonBody(NewCourseSchema), (c) => {
    const made = management.create(userOf(c), c.req.valid('json'));
    return made.ok ? c.json({ id: made.value }, 201) : refuseProblem(c, made.problem);
  });

  app.patch('/api/courses/:id', allow('manage-course'), jsonBody(ChangeCourseSchema), (c) => {
    const courseId = idParam(c) ?? 0;
    if (!management.manages(courseId, userOf(c).id)) return notFound(c);
    return done(c, management.change(courseId, userOf(c), c.req.valid('json')));
  });

  app.get('/api/courses/:id/log', allow('read-course'), (c) => {
    const courseId = idParam(c) ?? 0;
    if (!courses.readBy(userOf(c).id).includes(courseId)) return notFound(c);
    const before = Number(c.req.query('before'));
    const entries = audit.of(courseId, Number.isSafeInteger(before) && before > 0 ? before : null);
    return c.json({ entries: [...entries] } satisfies { entries: AuditEntry[] });
  });

  sectionRoutes(app, management);
  staffRoutes(app, management);
}

function sectionRoutes(app: Hono<AppEnv>, management: CourseManagement): void {
  app.post('/api/courses/:id/sections', allow('manage-course'), jsonBody(NewSectionSchema), (c) => {
    const courseId = idParam(c) ?? 0;
    if (!management.manages(courseId, userOf(c).id)) return notFound(c);
    const made = management.addSection(courseId, userOf(c), c.req.valid('json').name);
    return made.ok ? c.json({ id: made.value }, 201) : refuseProblem(c, made.problem);
  });

  app.patch('/api/sections/:id', allow('manage-course'), jsonBody(ChangeSectionSchema), (c) => {
    const sectionId = idParam(c) ?? 0;
    if (management.managedSection(sectionId, userOf(c).id) === null) return notFound(c);
    return done(c, management.changeSection(sectionId, userOf(c), c.req.valid('json')));
  });

  app.delete('/api/sections/:id', allow('manage-course'), (c) => {
    const sectionId = idParam(c) ?? 0;
    if (management.managedSection(sectionId, userOf(c).id) === null) return notFound(c);
    return done(c, management.removeSection(sectionId, userOf(c)));
  });
}

function staffRoutes(app: Hono<AppEnv>, management: CourseManagement): void {
  app.post('/api/courses/:id/staff', allow('manage-course'), jsonBody(NewStaffSchema), (c) => {
    const courseId = idParam(c) ?? 0;
    if (!management.manages(courseId, userOf(c).id)) return notFound(c);
    const added = management.addStaff(courseId, userOf(c), c.req.valid('json'));
    return added.ok ? c.json(added.value, 201) : refuseProblem(c, added.problem);
  });

  app.patch('/api/courses/:id/staff/:userId', allow('manage-course'), jsonBody(ChangeStaffSchema), (c) => {
    const courseId = idParam(c) ?? 0;
    if (!management.manages(courseId, userOf(c).id)) return notFound(c);
    return done(c, management.changeStaff(courseId, userOf(c), idParam(c, 'userId') ?? 0, c.req.valid('json')));
  });

  app.delete('/api/courses/:id/staff/:userId', allow('manage-course'), (c) => {
    const courseId = idParam(c) ?? 0;
    if (!management.manages(courseId, userOf(c).id)) return notFound(c);
    return done(c, management.removeStaff(courseId, userOf(c), idParam(c, 'userId') ?? 0));
  });
}
