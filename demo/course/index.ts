/** The demo course: people of the Saltmarsh Boatbuilding School, what was issued, and who handed in what. All made up. */
import type { MistakeKind } from '#core/cause';
import type { Slip } from '#demo/workbench';

import type { StudentName } from './people.ts';
import type { PlannedAssignment } from './plan.ts';

export { HISTORY, WEEKS } from './history.ts';
export * from './people.ts';
export type { BadFile, OtherPart, PlannedAssignment, PlannedAttempt } from './plan.ts';

const right: Slip = { kind: 'none' };
const slip = (...mistakes: readonly (readonly [kind: MistakeKind, place?: number])[]): Slip => ({
  kind: 'of-catalogue',
  mistakes,
});

export const ASSIGNMENTS: readonly PlannedAssignment[] = [
  {
    exercise: 'SB-101',
    opensInHours: -240,
    dueInHours: -60,
    attemptsAllowed: 2,
    answers: 'after-due',
    attempts: [
      { student: 'Ansel Brody', work: { kind: 'radius-for-diameter', step: 'bolts', hole: 3 }, afterHours: 20 },
      { student: 'Bettina Crane', work: right, afterHours: 22 },
      { student: 'Corin Dale', work: { kind: 'unit-swapped' }, afterHours: 23 },
      { student: 'Corin Dale', work: right, afterHours: 26 },
      { student: 'Dagny Elm', work: { kind: 'one-forgotten', step: 'bolts', hole: 4 }, afterHours: 30 },
      { student: 'Emil Frost', work: right, afterHours: 49 },
      { student: 'Fia Garrow', work: { kind: 'size-wrong', parameter: 'C', value: '12' }, afterHours: 50 },
      { student: 'Gil Hesper', work: 'not-a-model', afterHours: 70 },
      { student: 'Gil Hesper', work: { kind: 'wrong-material', material: 'steel-carbon' }, afterHours: 71 },
      { student: 'Hanne Isley', work: { kind: 'origin-shifted', by: [60, 32, 0] }, afterHours: 90 },
      { student: 'Ivo Jarrow', work: right, afterHours: 101 },
      { student: 'Juno Kestle', work: { kind: 'radius-for-diameter', step: 'bolts' }, afterHours: 120 },
      { student: 'Juno Kestle', work: right, afterHours: 125 },
      { student: 'Kasper Lund', work: right, afterHours: 150 },
      { student: 'Lio Marsh', work: { kind: 'size-wrong', parameter: 'B', value: '46' }, afterHours: 170 },
      { student: 'Mira Norrland', work: right, afterHours: 176 },
    ],
  },
  {
    exercise: 'SB-102',
    opensInHours: -72,
    dueInHours: 54,
    aids: { building: 'all' },
    attemptsAllowed: 3,
    answers: 'after-due',
    attempts: [
      { student: 'Bettina Crane', work: right, afterHours: 8 },
      { student: 'Ansel Brody', work: { kind: 'radius-for-diameter', step: 'eye' }, afterHours: 21 },
      { student: 'Emil Frost', work: { kind: 'unit-swapped' }, afterHours: 24 },
      { student: 'Fia Garrow', work: { kind: 'size-wrong', parameter: 'C', value: '1.75' }, afterHours: 25 },
      { student: 'Fia Garrow', work: right, afterHours: 27 },
      { student: 'Ivo Jarrow', work: 'cut-short', afterHours: 44 },
      { student: 'Hanne Isley', work: { kind: 'one-forgotten', step: 'bolts', hole: 2 }, afterHours: 46 },
      { student: 'Kasper Lund', work: { kind: 'origin-shifted', by: [1.75, 0.9375, 0] }, afterHours: 60 },
      { student: 'Mira Norrland', work: { kind: 'wrong-material', material: 'brass' }, afterHours: 66 },
      { student: 'Juno Kestle', work: slip(['blind-for-through']), afterHours: 68 },
      { student: 'Dagny Elm', work: slip(['recess-swapped']), afterHours: 70 },
    ],
  },
  {
    exercise: 'SB-201',
    opensInHours: -26,
    dueInHours: 120,
    attemptsAllowed: 2,
    answers: 'never',
    attempts: [
      { student: 'Bettina Crane', work: { kind: 'one-forgotten', step: 'bolts', hole: 2 }, afterHours: 18 },
      { student: 'Emil Frost', work: right, afterHours: 22 },
      { student: 'Dagny Elm', work: { kind: 'size-wrong', parameter: 'C', value: '2.5' }, afterHours: 24 },
    ],
  },
  {
    // Every student has a variant of their own, and there is a second stage.
    exercise: 'SB-301',
    opensInHours: -50,
    dueInHours: 90,
    attemptsAllowed: 3,
    answers: 'after-due',
    attempts: [
      { student: 'Bettina Crane', work: right, afterHours: 5 },
      { student: 'Bettina Crane', work: right, stage: 2, afterHours: 6 },
      { student: 'Emil Frost', work: { kind: 'radius-for-diameter', step: 'lag' }, afterHours: 20 },
      { student: 'Ansel Brody', work: right, afterHours: 30 },
      { student: 'Hanne Isley', work: right, afterHours: 31 },
      { student: 'Hanne Isley', work: { kind: 'one-forgotten', step: 'wedge', hole: 1 }, stage: 2, afterHours: 32 },
    ],
  },
  {
    // Every student has a variant of their own; nobody has begun.
    exercise: 'SB-104',
    opensInHours: -3,
    dueInHours: 160,
    aids: { building: ['extrude', 'hole', 'fillet', 'chamfer', 'mirror', 'plane'], sizes: 'chain' },
    attemptsAllowed: 2,
    answers: 'after-due',
    attempts: [],
  },
  {
    // Closed: one student for nearly every mistake of the catalogue.
    exercise: 'SB-202',
    evening: true,
    opensInHours: -200,
    dueInHours: -20,
    attemptsAllowed: 2,
    answers: 'after-due',
    lateForHours: 15,
    attempts: [
      { student: 'Aldo Brink', work: slip(['radius-for-diameter']), afterHours: 30 },
      { student: 'Birte Cask', work: slip(['wrong-edge']), afterHours: 42 },
      { student: 'Cajus Drey', work: slip(['digits-swapped', 1]), afterHours: 50 },
      { student: 'Delia Eames', work: right, afterHours: 52 },
      { student: 'Edda Flint', work: slip(['feature-forgotten']), afterHours: 60 },
      { student: 'Falk Gant', work: slip(['one-forgotten']), afterHours: 66 },
      { student: 'Gerda Holt', work: right, afterHours: 70 },
      { student: 'Hugo Inkster', work: slip(['wrong-edge']), afterHours: 75 },
      { student: 'Ida Joiner', work: slip(['letters-swapped']), afterHours: 80 },
      { student: 'Jarl Keel', work: slip(['recess-forgotten']), afterHours: 88 },
      { student: 'Karin Loft', work: slip(['neighboring-dimension'], ['radius-for-diameter', 1]), afterHours: 90 },
      { student: 'Lars Mizzen', work: slip(['recess-kind']), afterHours: 92 },
      { student: 'Malin Nock', work: slip(['half-for-whole', 1]), afterHours: 99 },
      { student: 'Nora Oakum', work: slip(['one-sided']), afterHours: 110 },
      { student: 'Otto Pintle', work: slip(['wrong-side', 1]), afterHours: 120 },
      { student: 'Petra Quay', work: slip(['digits-swapped']), afterHours: 130 },
      { student: 'Quint Rove', work: slip(['default-size']), afterHours: 140 },
      { student: 'Rasmus Stay', work: { kind: 'wrong-plane' }, afterHours: 150 },
      { student: 'Signe Thole', work: right, afterHours: 155 },
      { student: 'Tilda Udell', work: slip(['unit-of-one-value']), afterHours: 160 },
      { student: 'Ulf Vang', work: slip(['wrong-edge']), afterHours: 165 },
      { student: 'Vera Warp', work: slip(['diameter-for-radius'], ['recess-forgotten']), afterHours: 170 },
      { student: 'Wim Yarrow', work: slip(['decimal-point']), afterHours: 175 },
      { student: 'Ylva Zeal', work: right, afterHours: 190 },
    ],
  },
  {
    exercise: 'SB-205',
    evening: true,
    opensInHours: -120,
    dueInHours: 40,
    attemptsAllowed: 2,
    answers: 'after-due',
    release: 'accepted',
    feedback: ['checks', 'overlay'],
    attempts: [
      { student: 'Aldo Brink', work: slip(['one-too-many']), afterHours: 20 },
      { student: 'Birte Cask', work: slip(['angle-from-other-side']), afterHours: 24 },
      { student: 'Cajus Drey', work: slip(['wrong-count']), afterHours: 30 },
      { student: 'Delia Eames', work: right, afterHours: 33 },
      { student: 'Falk Gant', work: { kind: 'wrong-hand' }, afterHours: 44 },
      { student: 'Gerda Holt', work: slip(['feature-mirrored']), afterHours: 50 },
      { student: 'Hugo Inkster', work: slip(['whole-for-half']), afterHours: 60 },
      { student: 'Ida Joiner', work: right, afterHours: 70 },
    ],
  },
  {
    // Every student has a variant; the mistakes that only this part allows.
    exercise: 'SB-104',
    evening: true,
    opensInHours: -90,
    dueInHours: 60,
    attemptsAllowed: 2,
    answers: 'never',
    attempts: [
      { student: 'Jarl Keel', work: slip(['edges-not-sharp']), afterHours: 20 },
      { student: 'Karin Loft', work: slip(['drill-point']), afterHours: 22 },
      { student: 'Lars Mizzen', work: slip(['through-for-blind']), afterHours: 24 },
      { student: 'Malin Nock', work: slip(['wrong-variant', 1]), afterHours: 30 },
      { student: 'Nora Oakum', work: slip(['offset-forgotten']), afterHours: 34 },
    ],
  },
  {
    exercise: 'SB-203',
    evening: true,
    opensInHours: -70,
    dueInHours: 100,
    attemptsAllowed: 3,
    answers: 'after-due',
    feedback: ['checks', 'numbers', 'overlay'],
    attempts: [
      { student: 'Ida Joiner', work: slip(['chamfer-reversed']), afterHours: 20 },
      { student: 'Otto Pintle', work: slip(['wrong-order']), afterHours: 23 },
      { student: 'Nora Oakum', work: right, afterHours: 26 },
    ],
  },
  {
    exercise: 'SB-204',
    evening: true,
    opensInHours: -60,
    dueInHours: 110,
    attemptsAllowed: 2,
    answers: 'after-due',
    release: 'by-hand',
    attempts: [
      { student: 'Petra Quay', work: slip(['wall-or-all']), afterHours: 18 },
      { student: 'Quint Rove', work: right, afterHours: 24 },
      { student: 'Rasmus Stay', work: { kind: 'of-exercise', number: 'SB-202' }, afterHours: 30 },
      { student: 'Ulf Vang', work: slip(['legs-swapped']), afterHours: 31 },
      // One has the part of the other: the same two mistakes, which two hardly make alike.
      { student: 'Signe Thole', work: slip(['radius-for-diameter'], ['wall-or-all']), afterHours: 33 },
      { student: 'Tilda Udell', work: slip(['radius-for-diameter'], ['wall-or-all']), afterHours: 41 },
    ],
  },
];

/** Remarks that the instructor uses again and again. */
export const REMARKS = [
  '{check}: the sheet says {wanted}, your model has {measured}. Which dimension did you read?',
  'Well done, {student}.',
  'Measure every dimension of the sheet once more before you hand in.',
  'The size is right, the place is not: see from which edge the sheet counts.',
  'Set the material before you read the mass.',
] as const;

/** What was said about attempts: by the instructor, with the place of the remark in the collection, and by students. */
export const JUDGED = [
  { exercise: 'SB-101', student: 'Bettina Crane', remark: 1, accept: true },
  { exercise: 'SB-101', student: 'Emil Frost', remark: 1, accept: true },
  {
    exercise: 'SB-101',
    student: 'Fia Garrow',
    remark: 0,
    accept: true,
    override: { lineId: 'volume', credit: 0.5, reason: 'Volume follows from the thickness; half of it counts.' },
  },
  { exercise: 'SB-205', student: 'Ida Joiner', remark: 1, accept: true },
] as const satisfies readonly {
  readonly exercise: string;
  readonly student: StudentName;
  readonly remark: number;
  readonly accept: boolean;
  readonly override?: { readonly lineId: string; readonly credit: number; readonly reason: string };
}[];

export const REPLIES = [
  {
    exercise: 'SB-101',
    student: 'Lio Marsh',
    text: 'On my print the width reads 46. Could you look at it again?',
    wantsLook: true,
  },
  {
    exercise: 'SB-202',
    student: 'Birte Cask',
    text: 'I see it now: I measured from the outer edge. Thank you.',
    wantsLook: false,
  },
] as const satisfies readonly {
  readonly exercise: string;
  readonly student: StudentName;
  readonly text: string;
  readonly wantsLook: boolean;
}[];

/** What students ask about sheets, at places in mm on the first page, and what was answered for all. */
export const QUESTIONS = [
  {
    exercise: 'SB-102',
    student: 'Gil Hesper',
    text: 'Is the groove as deep at both ends?',
    at: [114, 170],
    answer: 'Yes. It runs through with one depth; the side view shows it.',
  },
  {
    exercise: 'SB-102',
    student: 'Corin Dale',
    text: 'From which edge is this hole counted?',
    at: [148, 80],
    answer: null,
  },
] as const satisfies readonly {
  readonly exercise: string;
  readonly student: StudentName;
  readonly text: string;
  readonly at: readonly [number, number];
  readonly answer: string | null;
}[];

/** Students of the evening who have another due time for an exercise. */
export const GROUP = {
  name: 'Island ferry',
  students: ['Vera Warp', 'Wim Yarrow', 'Ylva Zeal'],
  exercise: 'SB-205',
  /** After the others, in hours. */
  laterHours: 48,
} as const satisfies { readonly students: readonly StudentName[] } & Readonly<Record<string, unknown>>;
