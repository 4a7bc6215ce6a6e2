/** The demo course: people of the Saltmarsh Boatbuilding School, what was issued, and who handed in what. All made up. */
import type { Answers } from '#api';
import type { Mistake } from '#demo/workbench';

export const SCHOOL = 'Saltmarsh Boatbuilding School';
export const COURSE = 'Fittings 1';
export const SECTION = 'Morning bench';

export const INSTRUCTOR = { login: 'orla', name: 'Orla Fenwick', password: 'tidewater' } as const;
export const STUDENT_PASSWORD = 'saltmarsh';

export const STUDENTS = [
  'Ansel Brody',
  'Bettina Crane',
  'Corin Dale',
  'Dagny Elm',
  'Emil Frost',
  'Fia Garrow',
  'Gil Hesper',
  'Hanne Isley',
  'Ivo Jarrow',
  'Juno Kestle',
  'Kasper Lund',
  'Lio Marsh',
  'Mira Norrland',
  'Nils Osprey',
] as const;
export type StudentName = (typeof STUDENTS)[number];

export const loginOf = (name: string): string => (name.split(' ')[0] ?? name).toLowerCase();

/** A file that is no model at all, or one that a full disk cut short. */
export type BadFile = 'not-a-model' | 'cut-short';

export interface PlannedAttempt {
  readonly student: StudentName;
  readonly work: Mistake | BadFile;
  /** Of the exercise, from 1. */
  readonly stage?: number;
  /** Hours after the assignment opened. */
  readonly afterHours: number;
}

export interface PlannedAssignment {
  readonly exercise: string;
  /** From the start of the demo, in hours; negative is the past. */
  readonly opensInHours: number;
  readonly dueInHours: number;
  readonly attemptsAllowed: number;
  readonly answers: Answers;
  readonly attempts: readonly PlannedAttempt[];
}

const right: Mistake = { kind: 'none' };

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
      { student: 'Dagny Elm', work: { kind: 'hole-forgotten', step: 'bolts', hole: 4 }, afterHours: 30 },
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
    attemptsAllowed: 3,
    answers: 'after-due',
    attempts: [
      { student: 'Bettina Crane', work: right, afterHours: 8 },
      { student: 'Ansel Brody', work: { kind: 'radius-for-diameter', step: 'eye' }, afterHours: 21 },
      { student: 'Emil Frost', work: { kind: 'unit-swapped' }, afterHours: 24 },
      { student: 'Fia Garrow', work: { kind: 'size-wrong', parameter: 'C', value: '1.75' }, afterHours: 25 },
      { student: 'Fia Garrow', work: right, afterHours: 27 },
      { student: 'Ivo Jarrow', work: 'cut-short', afterHours: 44 },
      { student: 'Hanne Isley', work: { kind: 'hole-forgotten', step: 'bolts', hole: 2 }, afterHours: 46 },
      { student: 'Kasper Lund', work: { kind: 'origin-shifted', by: [1.75, 0.9375, 0] }, afterHours: 60 },
      { student: 'Mira Norrland', work: { kind: 'wrong-material', material: 'brass' }, afterHours: 66 },
    ],
  },
  {
    exercise: 'SB-201',
    opensInHours: -26,
    dueInHours: 120,
    attemptsAllowed: 2,
    answers: 'never',
    attempts: [
      { student: 'Bettina Crane', work: { kind: 'hole-forgotten', step: 'bolts', hole: 2 }, afterHours: 18 },
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
      { student: 'Hanne Isley', work: { kind: 'hole-forgotten', step: 'wedge', hole: 1 }, stage: 2, afterHours: 32 },
    ],
  },
  {
    // Every student has a variant of their own; nobody has begun.
    exercise: 'SB-104',
    opensInHours: -3,
    dueInHours: 160,
    attemptsAllowed: 2,
    answers: 'after-due',
    attempts: [],
  },
];
