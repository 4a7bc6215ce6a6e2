import type { SheetText } from '../model.ts';
import { boxesOverlap } from '../overlap.ts';

import { enclosedBy, enclosing, gridAround } from './raster.ts';
import { layerOf, outlineBoxes, type LintRuleCheck } from './rule.ts';
import { coverOf, throughText } from './strokes.ts';

/** From the edge of the paper to its frame. */
const FRAME_MM = 5;

const quoted = (text: string): string => `"${text.trim()}"`;

/** Texts do not cover each other. */
export const textsApart: LintRuleCheck = ({ pages }) =>
  pages.flatMap(({ texts }) => {
    const covered = texts.map((text) => ({ text, cover: coverOf(text) }));
    return covered.flatMap(({ text, cover }, i) =>
      covered
        .slice(i + 1)
        .filter((other) => boxesOverlap(cover, other.cover))
        .map((other) => ({
          where: text.checkId ?? other.text.checkId ?? '',
          words: `${quoted(text.text)} and ${quoted(other.text.text)} cover each other.`,
        })),
    );
  });

/** No line of the part or of a dimension runs through a text; a center line may through what is no dimension. */
export const textClearOfLines: LintRuleCheck = ({ pages, called }) =>
  pages.flatMap(({ texts, strokes }) =>
    texts.flatMap((text) => {
      const crossed = strokes.find(
        (stroke) =>
          layerOf(stroke) !== undefined &&
          layerOf(stroke) !== 'frame' &&
          !(layerOf(stroke) === 'center' && text.checkId === undefined) &&
          throughText(stroke, text),
      );
      if (crossed === undefined) return [];
      const line = crossed.entity.checkId === undefined ? 'a line' : `a line of ${called(crossed.entity.checkId)}`;
      return [{ where: text.checkId ?? '', words: `${quoted(text.text)} is crossed by ${line}.` }];
    }),
  );

/** Cells along the longer side of a view. */
const CELLS = 250;

/** An angle is clearest between its legs, which may be inside the part. */
const isAngle = ({ text }: SheetText): boolean => text.includes('°') && !text.includes('x');

/** Dimensions are written beside the part. */
export const textOutsidePart: LintRuleCheck = ({ pages }) =>
  pages.flatMap((page) => {
    const covers = [...outlineBoxes(page)].map(([viewId, box]) => {
      const strokes = page.strokes.filter((one) => one.entity.viewId === viewId && layerOf(one) === 'visible');
      const grid = gridAround([box.min, box.max], CELLS);
      return { box, isOn: enclosing(enclosedBy(strokes, grid), grid) };
    });
    return page.texts
      .filter((text) => {
        const cover = coverOf(text);
        return (
          text.checkId !== undefined &&
          !isAngle(text) &&
          covers.some(({ box, isOn }) => boxesOverlap(cover, box) && isOn(cover))
        );
      })
      .map((text) => ({ where: text.checkId ?? '', words: `${quoted(text.text)} is written inside a view.` }));
  });

/** No text reaches over the frame. */
export const textInFrame: LintRuleCheck = ({ pages }) =>
  pages.flatMap(({ page, texts }) =>
    texts
      .filter((text) => {
        const { min, max } = coverOf(text);
        return (
          Math.min(min[0], min[1]) < FRAME_MM || max[0] > page.widthMm - FRAME_MM || max[1] > page.heightMm - FRAME_MM
        );
      })
      .map((text) => ({ where: text.checkId ?? '', words: `${quoted(text.text)} reaches over the frame.` })),
  );

/** No text is cut. */
export const textWhole: LintRuleCheck = ({ pages }) =>
  pages.flatMap(({ texts }) =>
    texts
      .filter(({ text }) => /…|\.\.\.$/.test(text))
      .map(({ text, checkId }) => ({ where: checkId ?? '', words: `${quoted(text)} is cut.` })),
  );

/** Each sign stands once in a text: two diameters of a counterbore are two words. */
export const signOnce: LintRuleCheck = ({ pages }) =>
  pages.flatMap(({ texts }) =>
    texts
      .filter(({ text, checkId }) => checkId !== undefined && /([⌀R°⌴⌵↧])\s*\1|⌀[^\d.]*⌀/.test(text))
      .map(({ text, checkId }) => ({ where: checkId ?? '', words: `${quoted(text)} has a sign twice.` })),
  );

/** Like rounds are counted in one place: not "4 x R2" here and "2 x R2" there. */
export const oneCount: LintRuleCheck = ({ pages }) => {
  const notes = new Map<string, SheetText[]>();
  for (const text of pages.flatMap(({ texts }) => texts)) {
    const size = /^(?:\d+ x )?(R[\d.]+.*)$/.exec(text.text.trim())?.[1];
    if (text.checkId !== undefined && size !== undefined) notes.set(size, [...(notes.get(size) ?? []), text]);
  }
  return [...notes].flatMap(([size, texts]) =>
    texts.length < 2
      ? []
      : [
          {
            where: texts[0]?.checkId ?? '',
            words: `${size} is written in ${String(texts.length)} places: ${texts.map(({ text }) => quoted(text)).join(', ')}.`,
          },
        ],
  );
};
