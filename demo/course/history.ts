/** What the school did in the weeks before: one exercise after the other, with what each student tends to do wrong. */
import type { MistakeKind } from '#core/cause';

import { EVENING_STUDENTS, STUDENTS, type StudentName } from './people.ts';
import type { PlannedAssignment, PlannedAttempt } from './plan.ts';

/** How far back the term goes. */
export const WEEKS = 12;
const WEEK_HOURS = 168;

/** The mistake that a student makes again and again; the place is that in the list of a part. */
type Habit = readonly [kind: MistakeKind, place: number];

const HABITS: readonly Habit[] = [
  ['radius-for-diameter', 0],
  ['wrong-edge', 0],
  ['neighboring-dimension', 0],
  ['digits-swapped', 0],
  ['half-for-whole', 0],
  ['feature-forgotten', 0],
  ['wrong-edge', 2],
  ['wrong-edge', 1],
  ['neighboring-dimension', 2],
  ['radius-for-diameter', 1],
  ['wrong-edge', 4],
  ['wrong-edge', 3],
  ['wrong-edge', 5],
  ['neighboring-dimension', 1],
];

/** No two of a section have the same: like mistakes by chance would look like one file handed around. */
const habitOf = (place: number): Habit => HABITS[place] ?? ['wrong-edge', 6 + place - HABITS.length];

interface Issued {
  readonly exercise: string;
  /** Before the start of the demo. */
  readonly weeksAgo: number;
}

const MORNING_ISSUES: readonly Issued[] = [
  { exercise: 'SB-103', weeksAgo: WEEKS },
  { exercise: 'SB-105', weeksAgo: 10 },
  { exercise: 'SB-202', weeksAgo: 8 },
  { exercise: 'SB-205', weeksAgo: 6 },
  { exercise: 'SB-203', weeksAgo: 4 },
  { exercise: 'SB-204', weeksAgo: 3 },
];

const EVENING_ISSUES: readonly Issued[] = [
  { exercise: 'SB-101', weeksAgo: 11 },
  { exercise: 'SB-102', weeksAgo: 7 },
  { exercise: 'SB-105', weeksAgo: 4 },
];

/** Who never came until now. */
const ABSENT: ReadonlySet<StudentName> = new Set(['Nils Osprey']);

/**
 * Attempts of one student. The first lessons go wrong for most, later ones for few; whoever was wrong mends it in a second
 * attempt, but for every fifth.
 */
function attemptsOf(student: StudentName, place: number, { weeksAgo }: Issued): readonly PlannedAttempt[] {
  // Mixes student and week, so that neither all of one week nor always the same students are wrong.
  const mixed = (place * 7 + weeksAgo * 5 + place * weeksAgo) % WEEKS;
  const afterHours = 18 + ((place * 29 + weeksAgo * 11) % 90);
  const isAbsent = ABSENT.has(student) || (place + weeksAgo) % 13 === 0;
  if (isAbsent) return [];
  const isWrong = mixed < weeksAgo - 1;
  if (!isWrong) return [{ student, work: { kind: 'none' }, afterHours }];
  const work: PlannedAttempt['work'] = { kind: 'of-catalogue', mistakes: [habitOf(place)] };
  const mended = mixed % 5 !== 4;
  return [
    { student, work, afterHours },
    ...(mended ? [{ student, work: { kind: 'none' } as const, afterHours: afterHours + 3 }] : []),
  ];
}

const assignmentOf = (issued: Issued, students: readonly StudentName[]): PlannedAssignment => ({
  exercise: issued.exercise,
  ...(students === EVENING_STUDENTS ? { evening: true } : {}),
  opensInHours: -issued.weeksAgo * WEEK_HOURS,
  dueInHours: -issued.weeksAgo * WEEK_HOURS + 120,
  attemptsAllowed: 2,
  answers: 'after-due',
  attempts: students
    .flatMap((student, place) => attemptsOf(student, place, issued))
    .sort((a, b) => a.afterHours - b.afterHours),
});

/** Assignments of the weeks before, the oldest first; all are closed. */
export const HISTORY: readonly PlannedAssignment[] = [
  ...MORNING_ISSUES.map((issued) => assignmentOf(issued, STUDENTS)),
  ...EVENING_ISSUES.map((issued) => assignmentOf(issued, EVENING_STUDENTS)),
].sort((a, b) => a.opensInHours - b.opensInHours);
