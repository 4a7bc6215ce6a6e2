/** What is planned of the demo: which exercises are issued, and who hands in what. */
import type { Aids, Answers, Release } from '#api';
import type { Feedback } from '#core/grade';
import type { Slip } from '#demo/workbench';

import type { StudentName } from './people.ts';

/** A file that is no model at all, or one that a full disk cut short. */
export type BadFile = 'not-a-model' | 'cut-short';

/** The right part of another exercise. */
export interface OtherPart {
  readonly kind: 'of-exercise';
  readonly number: string;
}

export interface PlannedAttempt {
  readonly student: StudentName;
  readonly work: Slip | BadFile | OtherPart;
  /** Of the exercise, from 1. */
  readonly stage?: number;
  /** Hours after the assignment opened. */
  readonly afterHours: number;
}

export interface PlannedAssignment {
  readonly exercise: string;
  /** The evening bench instead of the morning one. */
  readonly evening?: true;
  /** From the start of the demo, in hours; negative is the past. */
  readonly opensInHours: number;
  readonly dueInHours: number;
  readonly attemptsAllowed: number;
  readonly answers: Answers;
  readonly release?: Release;
  readonly feedback?: Feedback;
  /** What students may use while they work, where it is not what is usual. */
  readonly aids?: Partial<Aids>;
  /** Hours after the due time in which late work is taken, at ten points a day. */
  readonly lateForHours?: number;
  readonly attempts: readonly PlannedAttempt[];
}
