/** What a drafting word means, in a sentence for who reads a first sheet. */
export interface Word {
  readonly name: string;
  readonly meaning: string;
}

/** The words and signs of a sheet, in the order in which they are best learnt. */
export const WORDS = {
  'first-angle': {
    name: 'First-angle projection',
    meaning: 'Each view lies on the far side of the part: what is seen from above is drawn below the front view.',
  },
  'third-angle': {
    name: 'Third-angle projection',
    meaning: 'Each view lies on the side that it looks from: what is seen from above is drawn above the front view.',
  },
  pictorial: {
    name: 'Pictorial view',
    meaning: 'The part as it looks from a corner. It shows the shape; no size is measured on it.',
  },
  'hidden-line': {
    name: 'Hidden line',
    meaning: 'Short dashes: an edge that lies behind material, seen from there.',
  },
  'center-line': {
    name: 'Center line',
    meaning: 'Long and short dashes: the axis of something round, or a line that both sides are symmetric about.',
  },
  section: {
    name: 'Section',
    meaning:
      'The part as if cut along the line with the letters, and looked at along the arrows. Hatching is cut material.',
  },
  'half-section': {
    name: 'Half section',
    meaning: 'Only one half is thought to be cut: one side shows the inside, the other the outside.',
  },
  'stepped-section': {
    name: 'Stepped section',
    meaning: 'The cut goes along one line, then along another beside it, to meet features that do not lie in one row.',
  },
  detail: {
    name: 'Detail',
    meaning: 'A round piece of a view, drawn larger. Sizes in it are those of the part, not of the drawing.',
  },
  letter: {
    name: 'Letter in place of a size',
    meaning: 'The size stands in the table of letters, under this letter.',
  },
  baseline: {
    name: 'Baseline dimensions',
    meaning: 'All are measured from one edge, each from there anew. A mistake in one does not move the others.',
  },
  chain: {
    name: 'Chain dimensions',
    meaning: 'Each begins where the one before ends. The place of the last follows from all of them added up.',
  },
  diameter: {
    name: 'Diameter ⌀',
    meaning: 'The whole width of something round, from wall to wall through the middle.',
  },
  radius: { name: 'Radius R', meaning: 'From the center to the round: half of the diameter.' },
  count: { name: 'Count, as 4 x', meaning: 'So many are alike; the size is written at one of them.' },
  'bolt-circle': {
    name: 'Bolt circle',
    meaning: 'The circle that the centers of several holes lie on. Its diameter is from center to center across.',
  },
  'equally-spaced': {
    name: 'Equally spaced',
    meaning: 'The same angle, or the same distance, lies between one place and the next.',
  },
  through: { name: 'Through', meaning: 'The hole goes on until it comes out; it has no depth of its own.' },
  depth: {
    name: 'Depth',
    meaning: 'How deep the round wall goes, from the face that it begins in. The point of a drill comes on top of it.',
  },
  counterbore: {
    name: 'Counterbore',
    meaning:
      'A wider hole with a flat bottom around a hole, as for the head of a screw. Its own diameter and depth follow.',
  },
  countersink: {
    name: 'Countersink',
    meaning: 'A cone that opens a hole, as for a flat head. The diameter is that at the face, the angle the whole one.',
  },
  thread: {
    name: 'Thread, as M8 x 1.25',
    meaning: 'The letter, the outer diameter, and how far the thread moves in one turn.',
  },
  chamfer: {
    name: 'Chamfer, as 2 x 45°',
    meaning: 'An edge that is cut off flat: how far it goes along one face, and its angle to that face.',
  },
} as const satisfies Readonly<Record<string, Word>>;

export type WordId = keyof typeof WORDS;
export const WORD_IDS = Object.keys(WORDS) as readonly WordId[];
