import type { Operation } from '#core/recipe';

/** How a build step gets its depth, where its name says so. */
export type StepExtent = 'through' | 'up-to' | 'symmetric';

/**
 * Words by which an operation is known in a list of steps. Of those that begin at the same place the more particular come
 * first ("full round" before "round", "pattern around" before "pattern").
 */
const OPERATION_WORDS: readonly (readonly [Operation, RegExp])[] = [
  ['full-round', /\bfull[ -]?rounds?\b|\b(three|3)[ -]faces? (round|fillet)/],
  [
    'circular-pattern',
    /\b(circular|polar|round) (pattern|array|copies|copy)|\b(copies|pattern|repeat\w*) (around|about)\b/,
  ],
  [
    'linear-pattern',
    /\b(linear|rectangular|straight) (pattern|array|copies|copy)|\bcopies in rows?\b|\bpatterns?\b|\barrays?\b|\brepeat(ed)?\b/,
  ],
  ['mirror', /\bmirror(ed|ing)?\b|\breflect(ed|ion)?\b/],
  ['thread', /\bthread(ed|s)?\b(?!.*\bhole)/],
  ['chamfer', /\bchamfer(s|ed)?\b|\bbevel(s|ed|led)?\b/],
  [
    'fillet',
    /\bfillet(s|ed)?\b|\brounds\b|\bround(ed|ing)?\b.*\b(edges?|corners?|rims?|off)\b|^round(ed|ing)?( r ?\d.*)?$|\bedge radi(us|i)\b/,
  ],
  ['rib', /\bribs?\b|\bwebs?\b|\bgussets?\b|\bstiffeners?\b/],
  ['loft', /\bloft(ed|s)?\b|\bblend between\b|\btransition between\b/],
  [
    'hole',
    /\bholes?\b|\bdrill(ed|s|ing)?\b|\bbores?d?\b|\bream(ed)?\b|\bcounter ?bores?d?\b|\bcounter ?(sink|sunk)\b|\btap(ped)?\b/,
  ],
  [
    'revolve',
    /\brevol(ve|ved|ves|ution)\b|\bturn(ed|ing)? (the |an? )?(outline|profile|section|sketch|body)\b|\bspin\b|\brotat(e|ed|ion) (the )?(outline|profile)/,
  ],
  [
    'extrude',
    /\bextru(de|ded|des|sion|sions)\b|\bpush(ed)?\b|\bpull(ed)?\b|\bboss(es)?\b|\bcut(s|[ -]?outs?)?\b|\bpockets?\b|\bslots?\b|\bnotch(es)?\b|\bbase (plate|block|body)\b/,
  ],
  ['axis', /\baxis\b|\bcent(er|re) ?lines?\b/],
  ['plane', /\bplanes?\b|\bdatum\b/],
];

/** What precedes an operation and is none itself: an outline in a plane. */
export const OUTLINE_WORDS = /^\W*(sketch|outline|profile|contour|drawing)\w*\b/;

/**
 * The operation that a step names, or null. The word that comes first says what is done, those after it to what: "Extrude
 * gusset", "Extrude screw holes".
 */
export function operationIn(text: string): Operation | null {
  const found = OPERATION_WORDS.flatMap(([operation, words]) => {
    const at = words.exec(text)?.index;
    return at === undefined ? [] : [{ operation, at }];
  });
  return found.sort((a, b) => a.at - b.at)[0]?.operation ?? null;
}

const EXTENT_WORDS: readonly (readonly [StepExtent, RegExp])[] = [
  ['through', /\b(through|thru)\b/],
  ['up-to', /\bup to\b|\bto (the )?(next|last|face|surface)\b/],
  ['symmetric', /\bsymmetric(al|ally)?\b|\bmid(dle)?[ -]?plane\b|\bboth (sides|directions|ways)\b/],
];

/** How the step gets its depth, where it says so. */
export const extentIn = (text: string): StepExtent | null =>
  EXTENT_WORDS.find(([, words]) => words.test(text))?.[0] ?? null;
