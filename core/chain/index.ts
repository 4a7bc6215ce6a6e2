/** Dimension chains: does the sheet say every place of the part, once, and how do sizes follow from those that it says? */
export {
  analyzeSheet,
  AXIS_WORDS,
  derivation,
  derivedSizes,
  saysSize,
  shownChains,
  type ChainFinding,
  type Derivation,
  type DerivedSize,
} from './analyze.ts';
export { Chain, placesAlong, samePlace, touchingCylinders, type Link, type Place } from './line.ts';
export { chainsOf, linksOf, placeOf } from './links.ts';
