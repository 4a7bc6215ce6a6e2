/** How the grade of a course comes about: groups of assignments with weights, what is left out, and letters. */
import * as v from 'valibot';

export const MOST_GROUPS = 12;
const MOST_LETTERS = 15;

const GradeGroupSchema = v.pipe(
  v.object({
    /** Unique within the course; assignments name it. */
    id: v.pipe(v.string(), v.regex(/^[a-z0-9-]{1,40}$/)),
    name: v.pipe(v.string(), v.trim(), v.minLength(1, 'Give each group a name.'), v.maxLength(40)),
    /** In relation to the other groups. */
    weight: v.pipe(v.number(), v.gtValue(0, 'A weight is a number above 0.'), v.maxValue(1000)),
    /** How many of the lowest scores do not count; one always does. */
    dropLowest: v.pipe(v.number(), v.integer('Whole numbers of scores are left out.'), v.minValue(0), v.maxValue(10)),
  }),
  v.readonly(),
);
export type GradeGroup = v.InferOutput<typeof GradeGroupSchema>;

const LetterSchema = v.pipe(
  v.object({
    letter: v.pipe(v.string(), v.trim(), v.minLength(1, 'Give each grade of the scale a name.'), v.maxLength(12)),
    /** The lowest total that earns it, 0 to 100. */
    from: v.pipe(v.number(), v.minValue(0), v.maxValue(100)),
  }),
  v.readonly(),
);

const distinct = (values: readonly unknown[]): boolean => new Set(values).size === values.length;

export const GradingSchemeSchema = v.pipe(
  v.object({
    /** Without any, every assignment counts alike. What names no group counts in the first one. */
    groups: v.pipe(
      v.array(GradeGroupSchema),
      v.maxLength(MOST_GROUPS, `A course has ${String(MOST_GROUPS)} groups at most.`),
      v.check((groups) => distinct(groups.map(({ id }) => id)), 'Two groups have one id.'),
      v.check((groups) => distinct(groups.map(({ name }) => name)), 'Two groups have one name.'),
      v.readonly(),
    ),
    /** The scale, best first; empty where grades are numbers. */
    letters: v.pipe(
      v.array(LetterSchema),
      v.maxLength(MOST_LETTERS),
      v.check((letters) => distinct(letters.map(({ from }) => from)), 'Two grades of the scale begin at one number.'),
      v.check(
        (letters) => letters.length === 0 || letters.some(({ from }) => from === 0),
        'The last grade of the scale begins at 0, so that everybody has one.',
      ),
      v.transform((letters) => [...letters].sort((a, b) => b.from - a.from)),
      v.readonly(),
    ),
  }),
  v.readonly(),
);
export type GradingScheme = v.InferOutput<typeof GradingSchemeSchema>;

/** Every assignment counts alike, and grades are numbers. */
export const PLAIN_SCHEME: GradingScheme = { groups: [], letters: [] };

/** The grade of the scale that a total earns; null without a scale or a total. */
export const letterOf = (total: number | null, { letters }: GradingScheme): string | null =>
  total === null ? null : (letters.find(({ from }) => total >= from)?.letter ?? null);

/** The group that an assignment counts in; null where all count alike. */
export const groupOf = (groupId: string | null, { groups }: GradingScheme): GradeGroup | null =>
  groups.find(({ id }) => id === groupId) ?? groups[0] ?? null;
