import type { ReviewAction, User } from '#api';
import { ruleLineId, typedLineId, type Report } from '#core/grade';
import { ProblemError } from '#core/problem';
import { GIVEN_BACK } from '#server/assignment';
import type { Audit } from '#server/audit';

import type { AttemptRecord, ReviewStore } from './rows.ts';

const MOST_REMARKS = 50;
/** What can be said of an attempt that has no report. */
const UNMEASURED: readonly ReviewAction['kind'][] = ['answer', 'remark', 'remove-remark'];

/** Changes of what counts, by what the log calls them. */
const LOGGED: Readonly<Partial<Record<ReviewAction['kind'], string>>> = {
  override: 'a line of a report',
  restore: 'a line of a report, as measured',
  'give-back': 'attempt given back',
  'count-again': 'attempt counts again',
};

/** Makes one change to a review, inside a transaction; throws a `ProblemError` where it cannot be made. */
export function createActions(store: ReviewStore, audit: Audit, now: () => Date) {
  const mayRelease = ({ courseId }: AttemptRecord, { id }: User): boolean => store.mayRelease(courseId, id);
  const requireRelease = (record: AttemptRecord, user: User): void => {
    if (!mayRelease(record, user))
      throw new ProblemError(
        'not-allowed',
        'Reports of this course are released by its instructors. Ask one of them, or to be allowed to.',
      );
  };

  return function apply(record: AttemptRecord, user: User, action: ReviewAction): void {
    const at = now().toISOString();
    const report = store.reportOf(record);
    // A file that was refused can be put off the desk, and be spoken of.
    const isPossible =
      report !== null ||
      UNMEASURED.includes(action.kind) ||
      (record.state === 'refused' && (action.kind === 'accept' || action.kind === 'reopen'));
    if ((record.state === 'given-back') !== (action.kind === 'count-again') && !UNMEASURED.includes(action.kind))
      throw new ProblemError(
        'not-measured',
        record.state === 'given-back'
          ? 'This attempt was given back. Let it count again first.'
          : 'This attempt was not given back.',
      );
    if (!isPossible)
      throw new ProblemError('not-measured', 'This attempt was not measured, so there is nothing to judge.');
    store.touch.run({ id: record.id, at, by: user.id });
    const what = LOGGED[action.kind];
    if (what !== undefined) {
      const { kind: _, ...after } = action;
      const subject = `${record.exercise}, ${record.student}, attempt ${String(record.id)}`;
      audit.note({ by: user, courseId: record.courseId, what, subject, after });
    }
    switch (action.kind) {
      case 'override':
        if (report === null || !lineIdsOf(report).has(action.lineId))
          throw new ProblemError('no-such-line', 'The report has no such line any more. Load the page again.');
        store.putOverride.run(record.id, action.lineId, action.credit, action.reason, user.id, at);
        return;
      case 'restore':
        store.dropOverride.run(record.id, action.lineId);
        return;
      case 'remark':
        if (store.remarksOf(record.id).length >= MOST_REMARKS)
          throw new ProblemError('too-many-remarks', `An attempt takes at most ${String(MOST_REMARKS)} remarks.`);
        store.addRemark.run(
          record.id,
          action.text,
          action.pin === null ? null : JSON.stringify(action.pin),
          user.id,
          at,
        );
        return;
      case 'remove-remark':
        store.dropRemark.run(action.remarkId, record.id);
        return;
      case 'accept':
        store.setAccepted.run(at, user.id, record.id);
        if (record.release === 'accepted' && mayRelease(record, user)) store.setReleased.run(at, record.id);
        return;
      case 'reopen':
        store.setAccepted.run(null, null, record.id);
        return;
      case 'release':
        requireRelease(record, user);
        store.setReleased.run(at, record.id);
        return;
      case 'hold-back':
        requireRelease(record, user);
        store.setReleased.run(null, record.id);
        return;
      case 'give-back':
        if (record.state !== 'graded')
          throw new ProblemError('not-measured', 'Only an attempt that was measured can be given back.');
        store.giveBack.run(GIVEN_BACK, `Given back by ${user.name}: ${action.reason}`, record.id);
        store.setAccepted.run(at, user.id, record.id);
        return;
      case 'count-again':
        store.countAgain.run(record.id);
        store.setAccepted.run(null, null, record.id);
        return;
      case 'answer':
        if (store.answerReply.run(action.text, user.id, at, action.replyId, record.id).changes === 0)
          throw new ProblemError('not-found', 'There is no such reply.');
    }
  };
}

const lineIdsOf = ({ lines, typed, rules }: Report): ReadonlySet<string> =>
  new Set([
    ...lines.map(({ checkId }) => checkId),
    ...typed.map(({ name }) => typedLineId(name)),
    ...rules.map((_, i) => ruleLineId(i)),
  ]);
