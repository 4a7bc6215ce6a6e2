/** Hand-ins that are alike in a way that chance does not explain. */
export { traceOf, type FileTrace } from './header.ts';
export {
  chanceOf,
  isSameModel,
  likenesses,
  LIKENESS_KINDS,
  MOST_CHANCE,
  type HandIn,
  type Likeness,
  type LikenessKind,
  type TypedName,
} from './likeness.ts';
