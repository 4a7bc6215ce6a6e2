import type { Hono } from 'hono';

import {
  ChangeAssignmentSchema,
  CorrectSchema,
  ExtensionSchema,
  IssueSchema,
  ScheduleSchema,
  ShiftSchema,
  type Desk,
  type Issue,
  type Shifted,
} from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import type { Courses } from '#server/course';
import { allow, idParam, jsonBody, notFound, refuseProblem, userOf, type AppEnv } from '#server/http';

import type { AssignmentChanges } from './changes.ts';
import type { Assignments } from './assignments.ts';
import type { Corrections } from './corrections.ts';

export interface AssignmentRouteParts {
  readonly assignments: Assignments;
  readonly changes: AssignmentChanges;
  readonly corrections: Pick<Corrections, 'correct'>;
  /** Scores the attempts of a student anew, as when they are late no more. */
  readonly rescoreStudent: (assignmentId: number, studentId: number | null) => Promise<void>;
  readonly courses: Courses;
  readonly revisionToIssue: (
    exerciseId: number,
    instructorId: number,
  ) => { readonly revisionId: number; readonly courseId: number } | null;
  /** What the sheets of a revision are known to leave open. */
  readonly openSizesOf: (revisionId: number) => readonly string[];
  readonly requestsOf: (instructorId: number) => Desk['requests'];
  readonly questionsOf: (instructorId: number) => readonly Desk['questions'][number][];
  readonly activity: () => Desk['activity'];
  readonly queue: () => Desk['queue'];
}

export function assignmentRoutes(
  app: Hono<AppEnv>,
  {
    assignments,
    changes,
    corrections,
    rescoreStudent,
    courses,
    revisionToIssue,
    openSizesOf,
    requestsOf,
    questionsOf,
    activity,
    queue,
  }: AssignmentRouteParts,
): void {
  /** The revision that is issued, or why it is not. */
  function revisionFor(issue: Issue, userId: number): Result<number> {
    const revision = revisionToIssue(issue.exerciseId, userId);
    const courseIds = [issue, ...issue.alsoTo].map(({ sectionId }) => courses.courseToIssueIn(sectionId, userId));
    if (revision === null || courseIds.includes(null))
      return refuse('not-found', 'There is nothing at this address, or it is not yours to see.');
    if (courseIds.some((courseId) => revision.courseId !== courseId))
      return refuse('other-course', 'This section belongs to another course than the exercise.');
    const open = openSizesOf(revision.revisionId);
    if (open.length > 0 && issue.openReason === '')
      return refuse(
        'reason-needed',
        `The sheet does not say ${open.join(', ')}. Put it on the sheet and make a new revision, or write why it is issued so.`,
      );
    return succeed(revision.revisionId);
  }

  app.get('/api/desk', allow('read-course'), (c) => {
    const { id } = userOf(c);
    return c.json({
      activity: activity(),
      queue: queue(),
      requests: requestsOf(id),
      questions: [...questionsOf(id)],
      ...assignments.deskFor(id),
    } satisfies Desk);
  });

  app.get('/api/assignments', allow('read-course'), (c) => c.json({ assignments: assignments.listFor(userOf(c).id) }));

  app.get('/api/assignments/:id', allow('read-course'), (c) => {
    const detail = assignments.detailFor(idParam(c) ?? 0, userOf(c).id);
    return detail === null ? notFound(c) : c.json(detail);
  });

  app.patch('/api/assignments/:id', allow('issue'), jsonBody(ChangeAssignmentSchema), async (c) => {
    const id = idParam(c) ?? 0;
    if (!changes.mayChange(id, userOf(c).id)) return notFound(c);
    const changed = changes.change(id, userOf(c), c.req.valid('json'));
    if (!changed.ok) return refuseProblem(c, changed.problem);
    if (c.req.valid('json').dueAt !== undefined) await rescoreStudent(id, null);
    return c.json({});
  });

  app.put('/api/assignments/:id/extensions/:studentId', allow('issue'), jsonBody(ExtensionSchema), async (c) => {
    const [id, studentId] = [idParam(c) ?? 0, idParam(c, 'studentId') ?? 0];
    if (!changes.mayChange(id, userOf(c).id)) return notFound(c);
    const extended = changes.extend(id, studentId, userOf(c), c.req.valid('json'));
    if (!extended.ok) return refuseProblem(c, extended.problem);
    await rescoreStudent(id, studentId);
    return c.json({});
  });

  app.delete('/api/assignments/:id/extensions/:studentId', allow('issue'), async (c) => {
    const [id, studentId] = [idParam(c) ?? 0, idParam(c, 'studentId') ?? 0];
    if (!changes.mayChange(id, userOf(c).id)) return notFound(c);
    const taken = changes.takeBack(id, studentId, userOf(c));
    if (!taken.ok) return refuseProblem(c, taken.problem);
    await rescoreStudent(id, studentId);
    return c.json({});
  });

  app.post('/api/assignments', allow('issue'), jsonBody(IssueSchema), (c) => {
    const issue = c.req.valid('json');
    const found = revisionFor(issue, userOf(c).id);
    return found.ok ? c.json({ id: assignments.issue(issue, found.value) }, 201) : refuseProblem(c, found.problem);
  });

  app.post('/api/schedules', allow('issue'), jsonBody(ScheduleSchema), (c) => {
    const { issues } = c.req.valid('json');
    const series: { readonly issue: Issue; readonly revisionId: number }[] = [];
    for (const issue of issues) {
      const found = revisionFor(issue, userOf(c).id);
      if (!found.ok) return refuseProblem(c, found.problem);
      series.push({ issue, revisionId: found.value });
    }
    return c.json({ ids: assignments.issueSeries(series) }, 201);
  });

  app.post('/api/assignments/:id/correct', allow('issue'), jsonBody(CorrectSchema), (c) => {
    const id = idParam(c) ?? 0;
    if (!changes.mayChange(id, userOf(c).id)) return notFound(c);
    const corrected = corrections.correct(id, userOf(c), c.req.valid('json'));
    return corrected.ok ? c.json({}, 202) : refuseProblem(c, corrected.problem);
  });

  app.post('/api/assignments/:id/shift', allow('issue'), jsonBody(ShiftSchema), async (c) => {
    const id = idParam(c) ?? 0;
    if (!changes.mayChange(id, userOf(c).id)) return notFound(c);
    const shifted = changes.shiftFrom(id, userOf(c), c.req.valid('json').days);
    if (!shifted.ok) return refuseProblem(c, shifted.problem);
    for (const one of shifted.value) await rescoreStudent(one.id, null);
    return c.json({ shifted: [...shifted.value] } satisfies Shifted);
  });
}
