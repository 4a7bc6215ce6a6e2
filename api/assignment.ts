import * as v from 'valibot';

import { AttemptStateSchema } from './event.ts';

import { FeedbackSchema, PolicySchema, ReportSchema, TypedInputSchema } from '#core/grade';
import { TypedValueNameSchema } from '#core/check';
import { DrawingUnitSchema } from '#core/quantity';

import { AidsSchema, PreparationSchema, USUAL_AIDS } from './practice.ts';
import { OpenQuestionsSchema } from './question.ts';
import { RequestSchema, ReviewSchema } from './review.ts';
import { QueueStateSchema } from './service.ts';

export const AnswersSchema = v.picklist(['at-once', 'after-due', 'never']);
export type Answers = v.InferOutput<typeof AnswersSchema>;

/** When a report reaches its student: with the measuring, when an instructor accepts it, or when it is released by hand. */
export const ReleaseSchema = v.picklist(['automatic', 'accepted', 'by-hand']);
export type Release = v.InferOutput<typeof ReleaseSchema>;

const TimeSchema = v.pipe(v.string(), v.isoTimestamp('Give a date and a time.'));

export const SectionSchema = v.object({
  id: v.number(),
  name: v.string(),
  course: v.string(),
  students: v.number(),
});
export type Section = v.InferOutput<typeof SectionSchema>;
export const SectionListSchema = v.object({ sections: v.array(SectionSchema) });

const WholeSchema = v.pipe(v.number('Type a whole number.'), v.integer('Type a whole number.'));
const AttemptsSchema = v.pipe(
  WholeSchema,
  v.minValue(1, 'At least one attempt.'),
  v.maxValue(20, 'At most 20 attempts.'),
);

const AFTER_OPENING = 'The due time must be after the opening.';
const isAfterOpening = ({ opensAt, dueAt }: { readonly opensAt: string; readonly dueAt: string }): boolean =>
  Date.parse(dueAt) > Date.parse(opensAt);

/** A section that an exercise is issued to, and when. */
const toSection = {
  sectionId: v.pipe(v.number('Choose a section.'), v.integer('Choose a section.')),
  opensAt: TimeSchema,
  dueAt: TimeSchema,
};

export const IssueSchema = v.pipe(
  v.strictObject({
    exerciseId: v.pipe(v.number(), v.integer()),
    ...toSection,
    /** Other sections of the course, with dates of their own and all else as in the first; late work as long after the due time. */
    alsoTo: v.optional(
      v.pipe(
        v.array(
          v.pipe(
            v.strictObject(toSection),
            v.forward(
              v.check((one) => isAfterOpening(one), AFTER_OPENING),
              ['dueAt'],
            ),
          ),
        ),
        v.maxLength(40),
      ),
      [],
    ),
    attemptsAllowed: AttemptsSchema,
    answers: AnswersSchema,
    /** Late work is taken until then, with the points off that the scoring says; null where the due time is the end. */
    lateUntil: v.optional(v.nullable(TimeSchema), null),
    release: v.optional(ReleaseSchema, 'automatic'),
    feedback: v.optional(FeedbackSchema, ['overlay']),
    aids: v.optional(AidsSchema, USUAL_AIDS),
    /** Why it is issued although its sheet leaves sizes open; asked for where that is known. */
    openReason: v.optional(v.pipe(v.string(), v.trim(), v.maxLength(500)), ''),
  }),
  v.forward(
    v.check((one) => isAfterOpening(one), AFTER_OPENING),
    ['dueAt'],
  ),
  v.forward(
    v.check(
      ({ sectionId, alsoTo }) => new Set([sectionId, ...alsoTo.map((one) => one.sectionId)]).size === alsoTo.length + 1,
      'A section is named twice.',
    ),
    ['sectionId'],
  ),
  v.forward(
    v.check(
      ({ dueAt, lateUntil }) => lateUntil === null || Date.parse(lateUntil) > Date.parse(dueAt),
      'Late work can only be taken after the due time.',
    ),
    ['lateUntil'],
  ),
);
export type Issue = v.InferOutput<typeof IssueSchema>;
export type IssueInput = v.InferInput<typeof IssueSchema>;

/** A whole series, issued at once or not at all. */
export const ScheduleSchema = v.strictObject({
  issues: v.pipe(v.array(IssueSchema), v.minLength(1, 'Choose at least one exercise.'), v.maxLength(80)),
});
export type Schedule = v.InferInput<typeof ScheduleSchema>;

/** So many days later, or earlier where it is negative. */
export const ShiftSchema = v.strictObject({
  days: v.pipe(
    v.number('Type a whole number of days.'),
    v.integer('Type a whole number of days.'),
    v.minValue(-60, 'At most 60 days.'),
    v.maxValue(60, 'At most 60 days.'),
    v.check((days) => days !== 0, 'Type by how many days.'),
  ),
});
/** What was shifted. */
export const ShiftedSchema = v.object({
  shifted: v.array(v.object({ id: v.number(), exercise: v.string(), dueAt: v.string() })),
});
export type Shifted = v.InferOutput<typeof ShiftedSchema>;

/** What can be changed of an assignment after it was issued. */
export const ChangeAssignmentSchema = v.partial(
  v.strictObject({
    opensAt: TimeSchema,
    dueAt: TimeSchema,
    lateUntil: v.nullable(TimeSchema),
    attemptsAllowed: AttemptsSchema,
    answers: AnswersSchema,
    release: ReleaseSchema,
    feedback: FeedbackSchema,
    aids: AidsSchema,
    /** Students do not see it any more; what was handed in stays. */
    withdrawn: v.boolean(),
  }),
);
export type ChangeAssignment = v.InferOutput<typeof ChangeAssignmentSchema>;

/** Whether a student owes the work: was away when it was due (it counts once it is made up), or need not hand it in. */
export const StandingSchema = v.picklist(['owed', 'absent', 'excused']);
export type Standing = v.InferOutput<typeof StandingSchema>;

/** Other dates and more attempts for one student. */
export const ExtensionSchema = v.strictObject({
  /** Null where the due time of the others holds. */
  dueAt: v.nullable(TimeSchema),
  extraAttempts: v.pipe(WholeSchema, v.minValue(0), v.maxValue(20)),
  standing: StandingSchema,
  reason: v.pipe(v.string(), v.trim(), v.minLength(3, 'Say why, in a few words.'), v.maxLength(300)),
});
export type Extension = v.InferOutput<typeof ExtensionSchema>;

/** An extension as staff see it. */
export const GivenExtensionSchema = v.object({
  studentId: v.number(),
  student: v.string(),
  dueAt: v.nullable(v.string()),
  extraAttempts: v.number(),
  standing: StandingSchema,
  reason: v.string(),
  by: v.string(),
  at: v.string(),
});
export type GivenExtension = v.InferOutput<typeof GivenExtensionSchema>;

/** A corrected revision in place of the one that was issued. */
export const CorrectSchema = v.strictObject({
  /** The number of the revision that was looked at. */
  revision: v.pipe(v.number(), v.integer(), v.minValue(1)),
  reason: v.pipe(v.string(), v.trim(), v.minLength(3, 'Say why, in a few words.'), v.maxLength(300)),
});
export type Correct = v.InferOutput<typeof CorrectSchema>;

/** What a correction came to. */
export const CorrectionSchema = v.object({
  id: v.number(),
  from: v.number(),
  to: v.number(),
  reason: v.string(),
  by: v.string(),
  at: v.string(),
  /** Attempts that are still to be measured anew. */
  pending: v.number(),
  /** Attempts that could not be measured anew and keep their report. */
  kept: v.number(),
  /** Attempts whose score stayed. */
  same: v.number(),
  /** Attempts whose score is another one now. */
  changed: v.array(v.object({ attemptId: v.number(), student: v.string(), before: v.number(), after: v.number() })),
});
export type Correction = v.InferOutput<typeof CorrectionSchema>;

const facts = {
  /** How many times the part is asked for. */
  stageCount: v.number(),
  id: v.number(),
  exerciseId: v.number(),
  exerciseNumber: v.string(),
  exerciseTitle: v.string(),
  revision: v.number(),
  unit: DrawingUnitSchema,
  material: v.string(),
  section: v.string(),
  course: v.string(),
  /** How the course wants files to be called, as a pattern; null where any name will do. */
  fileNameRule: v.nullable(v.string()),
  /** In which its times are told. */
  timeZone: v.string(),
  opensAt: v.string(),
  dueAt: v.string(),
  attemptsAllowed: v.number(),
  answers: AnswersSchema,
  lateUntil: v.nullable(v.string()),
  release: ReleaseSchema,
  feedback: FeedbackSchema,
  aids: AidsSchema,
};

export const AssignmentSummarySchema = v.object({
  ...facts,
  students: v.number(),
  handedIn: v.number(),
  graded: v.number(),
  refused: v.number(),
  inWork: v.number(),
  medianScore: v.nullable(v.number()),
  /** Newest attempts that nobody has accepted yet, where reports wait for it. */
  toReview: v.number(),
});
export type AssignmentSummary = v.InferOutput<typeof AssignmentSummarySchema>;
export const AssignmentListSchema = v.object({ assignments: v.array(AssignmentSummarySchema) });

export const AttemptRowSchema = v.object({
  id: v.number(),
  number: v.nullable(v.number()),
  student: v.string(),
  studentId: v.number(),
  fileName: v.string(),
  handedInAt: v.string(),
  state: AttemptStateSchema,
  /** Stage of the exercise, from 1. */
  stage: v.number(),
  score: v.nullable(v.number()),
  /** The surest cause, or why the file was refused. */
  finding: v.nullable(v.string()),
  accepted: v.boolean(),
  /** Whether the student may read the report. */
  released: v.boolean(),
});
export type AttemptRow = v.InferOutput<typeof AttemptRowSchema>;

export const AssignmentDetailSchema = v.object({
  /** Since when students do not see it any more. */
  withdrawnAt: v.nullable(v.string()),
  /** Whether who asks may change it. */
  mayChange: v.boolean(),
  extensions: v.array(GivenExtensionSchema),
  /** A newer revision of the exercise than was issued, with how many attempts would be measured anew; null for none. */
  newer: v.nullable(v.object({ revision: v.number(), attempts: v.number(), students: v.number() })),
  /** The newest first. */
  corrections: v.array(CorrectionSchema),
  ...facts,
  /** Why it was issued although its sheet leaves sizes open; null where it does not. */
  openReason: v.nullable(v.string()),
  students: v.number(),
  courseId: v.number(),
  sectionId: v.number(),
  /** Which attempt of a student counts. */
  counts: v.picklist(['best', 'last']),
  /** The score of each student who has one, over all stages, the lowest first. */
  scores: v.array(v.number()),
  attempts: v.array(AttemptRowSchema),
  /** Students of the section who have not handed in a readable file. */
  missing: v.array(v.object({ id: v.number(), name: v.string() })),
  /** What went wrong in the newest attempts, the commonest first. */
  causes: v.array(
    v.object({
      id: v.string(),
      name: v.string(),
      attempts: v.array(v.object({ attemptId: v.number(), student: v.string(), message: v.string() })),
    }),
  ),
});
export type AssignmentDetail = v.InferOutput<typeof AssignmentDetailSchema>;

/** How an assignment is scored, and whether that is its own way rather than its exercise's. */
export const PolicyAnswerSchema = v.object({
  policy: PolicySchema,
  own: v.boolean(),
  /** Checks of the plan, for gates. */
  checks: v.array(v.object({ id: v.string(), label: v.string() })),
});
export type PolicyAnswer = v.InferOutput<typeof PolicyAnswerSchema>;

/** Another policy, looked at or set; null for that of the exercise. */
export const RescoreSchema = v.strictObject({ policy: v.nullable(PolicySchema), apply: v.boolean() });
export const ScoreChangeSchema = v.object({
  attemptId: v.number(),
  student: v.string(),
  stage: v.number(),
  before: v.number(),
  after: v.number(),
});
export type ScoreChange = v.InferOutput<typeof ScoreChangeSchema>;
export const RescoredSchema = v.object({ changes: v.array(ScoreChangeSchema), applied: v.boolean() });
export type Rescored = v.InferOutput<typeof RescoredSchema>;

export const AttemptDetailSchema = v.object({
  id: v.number(),
  number: v.nullable(v.number()),
  state: AttemptStateSchema,
  student: v.object({ id: v.number(), name: v.string() }),
  /** Name of the variant that the student has; null where all have the same part. */
  variant: v.nullable(v.string()),
  /** Title of the stage; null where the exercise has only one. */
  stage: v.nullable(v.string()),
  assignment: v.object(facts),
  fileName: v.string(),
  fileSizeBytes: v.number(),
  fileSha256: v.string(),
  handedInAt: v.string(),
  gradedAt: v.nullable(v.string()),
  durationMs: v.nullable(v.number()),
  typed: v.array(TypedInputSchema),
  refusal: v.nullable(v.object({ code: v.string(), message: v.string() })),
  /** Null as long as it was not measured, or, for a student, not released. */
  report: v.nullable(ReportSchema),
  /** The list of build steps as it was written. */
  buildLog: v.string(),
  review: ReviewSchema,
  /** All attempts of the student in this assignment, the newest first. */
  attempts: v.array(AttemptRowSchema),
  courseId: v.number(),
  /** What the student did beside handing in, for staff. */
  preparation: v.nullable(PreparationSchema),
  /** What the score was made with, for an instructor; null as long as there is none. */
  scored: v.nullable(v.object({ program: v.string(), ownPolicy: v.boolean() })),
  /** Neighbors in the order of review, for an instructor. */
  previousId: v.nullable(v.number()),
  nextId: v.nullable(v.number()),
});
export type AttemptDetail = v.InferOutput<typeof AttemptDetailSchema>;

export const WorkItemSchema = v.object({
  ...facts,
  /** The last stage that is open, from 1. */
  stage: v.number(),
  /** In that stage. */
  attemptsUsed: v.number(),
  /** Over all stages. */
  bestScore: v.nullable(v.number()),
  lastAttempt: v.nullable(v.object({ id: v.number(), state: AttemptStateSchema, score: v.nullable(v.number()) })),
  open: v.boolean(),
});
export type WorkItem = v.InferOutput<typeof WorkItemSchema>;
export const WorkListSchema = v.object({ work: v.array(WorkItemSchema) });

export const WorkDetailSchema = v.object({
  ...facts,
  variant: v.nullable(v.string()),
  /** The stage that this is about, from 1. */
  stage: v.number(),
  /** All stages in order; empty where there is only one. */
  stages: v.array(v.object({ title: v.string(), open: v.boolean(), bestScore: v.nullable(v.number()) })),
  brief: v.string(),
  origin: v.string(),
  notes: v.array(v.string()),
  densityGPerCm3: v.number(),
  letters: v.array(v.object({ name: v.string(), value: v.string(), label: v.string() })),
  typedValues: v.array(TypedValueNameSchema),
  attemptsUsed: v.number(),
  open: v.boolean(),
  /** Why nothing can be handed in now, or null. */
  closedBecause: v.nullable(v.string()),
  /** What coming late costs, in words; null where it costs nothing, or late work is not taken. */
  lateCost: v.nullable(v.string()),
  /** The exercise says how the part should be built. */
  wantsBuildLog: v.boolean(),
  /** The steps of the reference can be read: they are worked together, or the answers are out. */
  worked: v.boolean(),
  attempts: v.array(AttemptRowSchema),
});
export type WorkDetail = v.InferOutput<typeof WorkDetailSchema>;

/** The typed numbers of a hand-in, sent as JSON beside the file. */
export const TypedInputsSchema = v.pipe(v.array(TypedInputSchema), v.maxLength(10));
export const HandedInSchema = v.object({ attemptId: v.number() });

/** One attempt that wants a look, with where it belongs. */
export const NeedSchema = v.object({
  attemptId: v.number(),
  assignmentId: v.number(),
  exerciseNumber: v.string(),
  exerciseTitle: v.string(),
  section: v.string(),
  course: v.string(),
  student: v.string(),
  state: AttemptStateSchema,
  score: v.nullable(v.number()),
  finding: v.nullable(v.string()),
  handedInAt: v.string(),
});
export type Need = v.InferOutput<typeof NeedSchema>;

/** Something long that the server does for everybody, such as making the demo course. */
export const ActivitySchema = v.object({ what: v.string(), done: v.number(), total: v.number() });
export type Activity = v.InferOutput<typeof ActivitySchema>;

/** The instructor's desk. */
export const DeskSchema = v.object({
  activity: v.nullable(ActivitySchema),
  /** How many files wait to be measured, of all courses, and since when. */
  queue: QueueStateSchema,
  requests: v.array(RequestSchema),
  /** Questions about sheets that nobody has answered, by assignment. */
  questions: v.array(OpenQuestionsSchema),
  /** Newest attempts that went wrong and nobody has accepted, one for each student and assignment, the newest first. */
  needs: v.array(NeedSchema),
  /** Those that are open or ended lately. */
  assignments: v.array(AssignmentSummarySchema),
  /** How many there are that ended longer ago. */
  older: v.number(),
});
export type Desk = v.InferOutput<typeof DeskSchema>;
