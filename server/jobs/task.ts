import type { OpenInWords } from '#api';
import type { Measurement } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Report, ScoringPolicy, TypedInput } from '#core/grade';
import type { Lookalikes } from '#core/lookalike';
import type { Coverage, Diagnosis, MadeMistake, Proposal } from '#core/mistake';
import type { Stage } from '#core/model';
import type { Problem } from '#core/problem';
import type { LengthUnit } from '#core/quantity';
import type { ParameterValues } from '#core/recipe';
import type { MassProperties } from '#core/solid';

import type { Unpacked } from '#server/archive';
import type { PrintTask } from '#server/print';
import type { CutTerm, TermTask } from '#server/extract';

import type { KnownCircumstances } from './part.ts';

/** The part of an exercise that something is made of: which stage, and which values of its letters. */
export interface PartOfExercise {
  readonly exercise: Exercise;
  /** Values of letters in place of those of the recipe. */
  readonly values?: ParameterValues | undefined;
  /** From 1. */
  readonly stage: number;
}

/** The part that mistakes are made in. */
export interface MistakenPart extends PartOfExercise {
  readonly referencePath: string;
  /** Of the model file, where the part was read from one. */
  readonly modelPath?: string | undefined;
}

/** Builds some of the mistakes of a part. */
export interface AtlasTask extends MistakenPart {
  readonly kind: 'atlas';
  readonly from: number;
  readonly count: number;
}

export interface AtlasChunk {
  /** Mistakes of the part altogether. */
  readonly total: number;
  readonly made: readonly MadeMistake[];
}

/** Puts what was made into one atlas, and looks for checks that the plan lacks. */
export interface GatherTask extends MistakenPart {
  readonly kind: 'gather';
  readonly made: readonly MadeMistake[];
}

export interface Gathered {
  readonly atlasJson: string;
  readonly proposals: readonly Proposal[];
}

/** Varies every size of a part, and asks what its sheet leaves open. */
export interface StudyTask extends PartOfExercise {
  readonly kind: 'study';
}

/** Draws a part beside others that it may be taken for. */
export interface LookalikesTask extends PartOfExercise {
  readonly kind: 'lookalikes';
  readonly referencePath: string;
}

/** Asks which mistakes of an atlas the checks of an exercise tell apart. */
export interface CoverageTask {
  readonly kind: 'coverage';
  readonly exercise: Exercise;
  readonly atlasPath: string;
}

/** Looks up a measured attempt among single mistakes and several together. */
export interface DiagnoseTask extends MistakenPart {
  readonly kind: 'diagnose';
  readonly measurement: Measurement;
  readonly report: Pick<Report, 'lines' | 'overlay'>;
  readonly atlasPath: string;
}

export interface GradeTask {
  readonly kind: 'grade';
  readonly filePath: string;
  readonly fileName: string;
  /** What the student says a file without unit is in; null to guess. */
  readonly fileUnit: LengthUnit | null;
  readonly referencePath: string;
  readonly typed: readonly TypedInput[];
  readonly policy: ScoringPolicy;
  readonly circumstances: KnownCircumstances;
  /** What a recipe that was handed in is replayed against; null where there is none. */
  readonly replay: PartOfExercise | null;
  /** Where single mistakes are looked up; null as long as there is no atlas. */
  readonly atlasPath: string | null;
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
  readonly diagnosis: Diagnosis | null;
  /** Display model as JSON. */
  readonly modelJson: string;
  /** Missing and extra material as JSON; null where there is none. */
  readonly overlayJson: string | null;
}

export interface Prepared {
  readonly referenceJson: string;
  readonly size: Pick<MassProperties, 'volumeMm3' | 'areaMm2'>;
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
  | { readonly kind: 'timed-out' }
  /** A task of the background was ended for somebody who waits; it is to be asked for again. */
  | { readonly kind: 'gave-way' };

export type OnStage = (stage: Stage) => void;

/** Runs tasks somewhere else; what it returns never throws. */
export interface Runner {
  grade(task: Omit<GradeTask, 'kind'>, onStage: OnStage): Promise<Outcome<Graded>>;
  prepare(task: Omit<PrepareTask, 'kind'>): Promise<Outcome<Prepared>>;
  /** Makes a PDF. */
  print(task: PrintTask): Promise<Outcome<Uint8Array>>;
  /** Makes the database of the archive of a course. */
  cutTerm(task: TermTask): Promise<Outcome<CutTerm>>;
  /** Reads the archive of an exercise. */
  unpack(bytes: Uint8Array): Promise<Outcome<Unpacked>>;
  atlas(task: Omit<AtlasTask, 'kind'>): Promise<Outcome<AtlasChunk>>;
  gather(task: Omit<GatherTask, 'kind'>): Promise<Outcome<Gathered>>;
  study(task: Omit<StudyTask, 'kind'>): Promise<Outcome<OpenInWords>>;
  lookalikes(task: Omit<LookalikesTask, 'kind'>): Promise<Outcome<Lookalikes>>;
  coverage(task: Omit<CoverageTask, 'kind'>): Promise<Outcome<Coverage>>;
  diagnose(task: Omit<DiagnoseTask, 'kind'>): Promise<Outcome<Diagnosis>>;
  /** How many workers ended since the start: over a task, for taking too long, and to be replaced after much work. */
  ended(): { readonly crashed: number; readonly timedOut: number; readonly replaced: number };
  /** How many tasks run at the same time. */
  readonly width: number;
  close(): Promise<void>;
}
