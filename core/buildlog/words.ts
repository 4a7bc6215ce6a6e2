import { operationOf, OPERATIONS, type Operation, type StepExtent } from '#core/recipe';

/** What precedes an operation and is none itself: an outline in a plane. */
export const OUTLINE_WORDS = /^\W*(sketch|outline|profile|contour|drawing)\w*\b/;

/**
 * The operation that a step names, or null. The word that comes first says what is done, those after it to what: "Extrude
 * gusset", "Extrude screw holes". Of words at the same place the longer ones decide: "pattern around" before "pattern".
 */
export function operationIn(text: string): Operation | null {
  const found = OPERATIONS.flatMap((operation) => {
    const match = operationOf(operation).logWords.exec(text);
    return match === null ? [] : [{ operation, at: match.index, long: match[0].length }];
  });
  return found.sort((a, b) => a.at - b.at || b.long - a.long)[0]?.operation ?? null;
}

const EXTENT_WORDS: readonly (readonly [StepExtent, RegExp])[] = [
  ['through', /\b(through|thru)\b/],
  ['up-to', /\bup to\b|\bto (the )?(next|last|face|surface)\b/],
  ['symmetric', /\bsymmetric(al|ally)?\b|\bmid(dle)?[ -]?plane\b|\bboth (sides|directions|ways)\b/],
];

/** How the step gets its depth, where it says so. */
export const extentIn = (text: string): StepExtent | null =>
  EXTENT_WORDS.find(([, words]) => words.test(text))?.[0] ?? null;
