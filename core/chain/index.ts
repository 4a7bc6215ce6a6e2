/** Dimension chains: does the sheet say every place of the part, once, and how do sizes follow from those that it says? */
export { analyzeSheet, derivation, type ChainFinding, type Derivation } from './analyze.ts';
export { Chain, placesAlong, samePlace, touchingRounds, type AxisIndex, type Link, type Place } from './line.ts';
export { chainsOf, linksOf } from './links.ts';
