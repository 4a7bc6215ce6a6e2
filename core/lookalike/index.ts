/** Pictures of a part beside parts that it may be taken for: the same part with one mistake that is seen. */
export { lookalikesOf, LookalikesSchema, type LookalikeOptions, type Lookalikes } from './lookalike.ts';
export { PictureSchema, unlikeness, type Picture } from './picture.ts';
