/** Which exercises of a library are meant, by words and choices. */
import type { ExerciseSummary } from '#api';
import { LevelSchema } from '#core/exercise';
import { formatFixed } from '#core/quantity';

export type Shown = 'current' | 'issued' | 'not-issued' | 'put-away';

export interface Filter {
  readonly words: string;
  readonly shown: Shown;
  /** Empty for any. */
  readonly unit: string;
  readonly operation: string;
  readonly tag: string;
  readonly course: string;
}

export const NO_FILTER: Filter = { words: '', shown: 'current', unit: '', operation: '', tag: '', course: '' };

/** Everything of an exercise that is looked for by words. */
const textOf = ({
  number,
  title,
  level,
  unit,
  material,
  letters,
  operations,
  words,
  tags,
  massG,
}: ExerciseSummary): string =>
  [
    number,
    title,
    level,
    unit,
    material,
    ...letters,
    ...operations,
    ...words,
    ...tags,
    massG === null ? '' : `${formatFixed(massG, 1)} g`,
  ]
    .join('\n')
    .toLowerCase();

function isShown({ archivedAt, assignments }: ExerciseSummary, shown: Shown): boolean {
  switch (shown) {
    case 'put-away':
      return archivedAt !== null;
    case 'issued':
      return archivedAt === null && assignments > 0;
    case 'not-issued':
      return archivedAt === null && assignments === 0;
    case 'current':
      return archivedAt === null;
  }
}

/** The exercises that have every word somewhere, and are as chosen. */
export function filtered(all: readonly ExerciseSummary[], filter: Filter): readonly ExerciseSummary[] {
  const words = filter.words.trim().toLowerCase().split(/\s+/).filter(Boolean);
  return all.filter((exercise) => {
    const text = textOf(exercise);
    return (
      isShown(exercise, filter.shown) &&
      (filter.unit === '' || exercise.unit === filter.unit) &&
      (filter.operation === '' || exercise.operations.includes(filter.operation)) &&
      (filter.tag === '' || exercise.tags.includes(filter.tag)) &&
      (filter.course === '' || exercise.course === filter.course) &&
      words.every((word) => text.includes(word))
    );
  });
}

export const SORTS = {
  number: 'Number',
  title: 'Title',
  level: 'Level',
  mass: 'Mass',
  issued: 'Most issued',
} as const;
export type Sort = keyof typeof SORTS;

/** From the first lessons on. */
const LEVELS: readonly string[] = LevelSchema.options;

const byNumber = (a: ExerciseSummary, b: ExerciseSummary): number =>
  a.number.localeCompare(b.number, 'en', { numeric: true });
const ORDERS: Readonly<Record<Sort, (a: ExerciseSummary, b: ExerciseSummary) => number>> = {
  number: byNumber,
  title: (a, b) => a.title.localeCompare(b.title, 'en'),
  level: (a, b) => LEVELS.indexOf(a.level) - LEVELS.indexOf(b.level),
  mass: (a, b) => (a.massG ?? Number.POSITIVE_INFINITY) - (b.massG ?? Number.POSITIVE_INFINITY),
  issued: (a, b) => b.assignments - a.assignments,
};

/** In an order; what is alike in it, by number. */
export const sorted = (all: readonly ExerciseSummary[], by: Sort): readonly ExerciseSummary[] =>
  [...all].sort((a, b) => ORDERS[by](a, b) || byNumber(a, b));
