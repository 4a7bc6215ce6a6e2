import type { Hono } from 'hono';

import { GroupDueSchema, SetStudentGroupSchema } from '#api';
import type { CourseManagement } from '#server/course';
import { allow, idParam, jsonBody, notFound, refuseProblem, userOf, type AppEnv } from '#server/http';

import type { StudentGroups } from './groups.ts';

export interface StudentGroupRouteParts {
  readonly groups: StudentGroups;
  readonly management: Pick<CourseManagement, 'managedSection'>;
  readonly changes: { mayChange(assignmentId: number, userId: number): boolean };
  /** Scores what was handed in for an assignment anew, as when it is late no more. */
  readonly rescore: (assignmentId: number) => Promise<void>;
}

export function studentGroupRoutes(app: Hono<AppEnv>, parts: StudentGroupRouteParts): void {
  sectionRoutes(app, parts);
  dateRoutes(app, parts);
}

/** The groups of a section, for those who manage its course. */
function sectionRoutes(app: Hono<AppEnv>, { groups, management, rescore }: StudentGroupRouteParts): void {
  const mayManage = (sectionId: number, userId: number): boolean =>
    management.managedSection(sectionId, userId) !== null;
  const rescoreAll = async (assignmentIds: readonly number[]): Promise<void> => {
    for (const id of assignmentIds) await rescore(id);
  };

  app.get('/api/sections/:id/groups', allow('manage-course'), (c) => {
    const sectionId = idParam(c) ?? 0;
    return mayManage(sectionId, userOf(c).id) ? c.json({ groups: groups.ofSection(sectionId) }) : notFound(c);
  });

  app.post('/api/sections/:id/groups', allow('manage-course'), jsonBody(SetStudentGroupSchema), (c) => {
    const sectionId = idParam(c) ?? 0;
    if (!mayManage(sectionId, userOf(c).id)) return notFound(c);
    const added = groups.add(sectionId, userOf(c), c.req.valid('json'));
    return added.ok ? c.json({ id: added.value }, 201) : refuseProblem(c, added.problem);
  });

  app.put('/api/sections/:id/groups/:group', allow('manage-course'), jsonBody(SetStudentGroupSchema), async (c) => {
    const sectionId = idParam(c) ?? 0;
    if (!mayManage(sectionId, userOf(c).id)) return notFound(c);
    const changed = groups.change(sectionId, idParam(c, 'group') ?? 0, userOf(c), c.req.valid('json'));
    if (!changed.ok) return refuseProblem(c, changed.problem);
    await rescoreAll(changed.value);
    return c.json({});
  });

  app.delete('/api/sections/:id/groups/:group', allow('manage-course'), async (c) => {
    const sectionId = idParam(c) ?? 0;
    if (!mayManage(sectionId, userOf(c).id)) return notFound(c);
    const removed = groups.remove(sectionId, idParam(c, 'group') ?? 0, userOf(c));
    if (!removed.ok) return refuseProblem(c, removed.problem);
    await rescoreAll(removed.value);
    return c.json({});
  });
}

/** When the groups of its section have to hand an assignment in. */
function dateRoutes(app: Hono<AppEnv>, { groups, changes, rescore }: StudentGroupRouteParts): void {
  app.get('/api/assignments/:id/groups', allow('issue'), (c) => {
    const id = idParam(c) ?? 0;
    return changes.mayChange(id, userOf(c).id) ? c.json({ groups: groups.datesOf(id) }) : notFound(c);
  });

  app.put('/api/assignments/:id/groups/:group', allow('issue'), jsonBody(GroupDueSchema), async (c) => {
    const [id, groupId] = [idParam(c) ?? 0, idParam(c, 'group') ?? 0];
    if (!changes.mayChange(id, userOf(c).id)) return notFound(c);
    const set = groups.setDue(id, groupId, userOf(c), c.req.valid('json').dueAt);
    if (!set.ok) return refuseProblem(c, set.problem);
    await rescore(id);
    return c.json({});
  });

  app.delete('/api/assignments/:id/groups/:group', allow('issue'), async (c) => {
    const [id, groupId] = [idParam(c) ?? 0, idParam(c, 'group') ?? 0];
    if (!changes.mayChange(id, userOf(c).id)) return notFound(c);
    const set = groups.setDue(id, groupId, userOf(c), null);
    if (!set.ok) return refuseProblem(c, set.problem);
    await rescore(id);
    return c.json({});
  });
}
