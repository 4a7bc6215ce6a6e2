import type { Measurement } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Report, ScoringPolicy, TypedInput } from '#core/grade';
import type { Stage } from '#core/model';
import type { Problem } from '#core/problem';
import type { LengthUnit } from '#core/quantity';
import type { ParameterValues } from '#core/recipe';

export interface GradeTask {
  readonly kind: 'grade';
  readonly filePath: string;
  readonly fileName: string;
  /** What the student says a file without unit is in; null to guess. */
  readonly fileUnit: LengthUnit | null;
  readonly referencePath: string;
  readonly typed: readonly TypedInput[];
  readonly policy: ScoringPolicy;
}

export interface PrepareTask {
  readonly kind: 'prepare';
  readonly exercise: Exercise;
  /** Values of letters in place of those of the recipe. */
  readonly values?: ParameterValues;
  /** From 1. */
  readonly stage: number;
  /** Where the model file of the exercise is, if it has one. */
  readonly modelPath?: string;
}

export interface Graded {
  readonly measurement: Measurement;
  readonly report: Report;
  /** Display model as JSON. */
  readonly modelJson: string;
  /** Missing and extra material as JSON; null where there is none. */
  readonly overlayJson: string | null;
}

export interface Prepared {
  readonly referenceJson: string;
  /** The drawing as JSON. */
  readonly sheetJson: string;
  /** The reference part: STEP, or the model file itself. */
  readonly part: Uint8Array;
  readonly failing: readonly string[];
}

/** How a task ends when its worker lives: with a value, or with a refusal for the person. */
export type Outcome<T> =
  | { readonly kind: 'done'; readonly value: T }
  | { readonly kind: 'refused'; readonly problem: Problem }
  /** The kernel trapped; its worker ends itself. */
  | { readonly kind: 'crashed'; readonly reason: string }
  | { readonly kind: 'timed-out' };

export type OnStage = (stage: Stage) => void;

/** Runs tasks somewhere else; what it returns never throws. */
export interface Runner {
  grade(task: Omit<GradeTask, 'kind'>, onStage: OnStage): Promise<Outcome<Graded>>;
  prepare(task: Omit<PrepareTask, 'kind'>): Promise<Outcome<Prepared>>;
  /** How many tasks run at the same time. */
  readonly width: number;
  close(): Promise<void>;
}
