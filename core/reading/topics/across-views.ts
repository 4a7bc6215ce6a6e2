import { circleCover } from '#core/feature';
import { cross, dot, length, type Vec3 } from '#core/vector';

import type { Draft, ReadSheet, TopicQuestions } from '../question.ts';
import { directionWords, plainViews, shownAt, type PlainView } from '../views.ts';

/** Axes of one view have to be so far apart on paper to be told from each other, mm. */
const APART_MM = 6;
/** Of its circle, a wall that is a hole covers at least so much. */
const WHOLE = 0.9;
const isAlong = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < 1e-6;

/** The same hole in two views that stand in line: a circle in one, an axis in the other. */
export const acrossViews: TopicQuestions = (sheet: ReadSheet) => {
  const all = plainViews(sheet);
  return all.flatMap((first) =>
    all.flatMap((second): Draft[] => {
      const draft = first.page === second.page ? questionOf(sheet, first, second) : null;
      return draft === null ? [] : [draft];
    }),
  );
};

function questionOf(sheet: ReadSheet, first: PlainView, second: PlainView): Draft | null {
  const { solid } = sheet.reference;
  // Views in line share one way on the paper.
  const isColumn = isAlong(first.lies.right, second.lies.right);
  const shared = isColumn ? first.lies.right : isAlong(first.lies.up, second.lies.up) ? first.lies.up : null;
  if (shared === null || isAlong(first.toViewer, second.toViewer)) return null;
  const axes = solid.faces.flatMap((face) => {
    const { surface } = face;
    return surface.kind === 'cylinder' &&
      surface.side === 'concave' &&
      isAlong(surface.direction, first.toViewer) &&
      circleCover(solid, face) > WHOLE
      ? [face.centroid]
      : [];
  });
  const apart: Vec3[] = [];
  for (const middle of axes)
    if (apart.every((other) => Math.abs(dot(shared, other) - dot(shared, middle)) * second.scale > APART_MM))
      apart.push(middle);
  const places = apart.slice(0, 4).sort((a, b) => dot(shared, a) - dot(shared, b));
  // Not always the first: which one is asked for goes with the views.
  const number = (first.id.length + 3 * second.id.length) % Math.max(1, places.length);
  const asked = places[number];
  if (asked === undefined || places.length < 2) return null;
  const letter = (i: number): string => String.fromCodePoint(97 + i);
  return {
    key: `${first.id}-${second.id}`,
    text: `The hole at 1 is seen ${directionWords(first)}. Where is it seen ${directionWords(second)}?`,
    right: `At ${letter(number)}`,
    wrong: places.flatMap((_, i) => (i === number ? [] : [`At ${letter(i)}`])),
    inOrder: true,
    why: `Both views stand in line: what lies ${isColumn ? 'above each other' : 'beside each other'} in them is the same place of the part.`,
    rings: [
      { label: '1', at: shownAt(sheet, first, asked) },
      ...places.map((place, i) => ({ label: letter(i), at: shownAt(sheet, second, place) })),
    ],
    page: first.page,
  };
}
