/** What a number of a step is: it decides how it is misread, and how it is written. */
export type NumberRole =
  | 'diameter'
  | 'radius'
  | 'chamfer'
  | 'width'
  | 'depth'
  | 'hole-depth'
  | 'offset'
  | 'spacing'
  | 'position'
  | 'angle'
  | 'count';
