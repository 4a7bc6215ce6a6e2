/** A linter of drawings: what a drafting teacher would mark on a finished sheet, rule by rule. */
import { DEFAULT_SHEET, type SheetView } from '#core/exercise';

import type { Sheet } from '../model.ts';
import { prepareViews, type SheetSource } from '../prepare.ts';

import { letterAtSize } from './letters.ts';
import { dimensionLineClear, endsVisible, extensionLineShort, leadersApart } from './lines.ts';
import { LINT_RULES, lookedAt, type LintFinding, type LintRule, type LintRuleCheck, type Look } from './rule.ts';
import { oneCount, signOnce, textClearOfLines, textInFrame, textOutsidePart, textsApart, textWhole } from './texts.ts';
import { outlineClosed, viewAdds } from './views.ts';

export { LINT_RULES, type LintFinding, type LintRule } from './rule.ts';
export { idleViews, openShareOf } from './views.ts';

const RULES: Readonly<Record<LintRule, LintRuleCheck>> = {
  'texts-apart': textsApart,
  'text-clear-of-lines': textClearOfLines,
  'text-outside-part': textOutsidePart,
  'text-in-frame': textInFrame,
  'text-whole': textWhole,
  'sign-once': signOnce,
  'one-count': oneCount,
  'letter-at-size': letterAtSize,
  'leaders-apart': leadersApart,
  'dimension-line-clear': dimensionLineClear,
  'extension-line-short': extensionLineShort,
  'ends-visible': endsVisible,
  'outline-closed': outlineClosed,
  'view-adds': viewAdds,
};

/**
 * Looks at a finished sheet as its reader does, whoever placed what is on it. Rules about the part itself (outlines, views,
 * letters) need what it was drawn from, and hold for a sheet that was drawn by Zorvet only.
 */
export function lintSheet(
  sheet: Pick<Sheet, 'pages' | 'dimensions'>,
  source: SheetSource | null = null,
): readonly LintFinding[] {
  const drawn = source === null || source.exercise.sheet?.drawing !== undefined ? null : source;
  const look: Look = {
    sheet,
    pages: sheet.pages.map(lookedAt),
    source: drawn,
    views: drawn === null ? [] : prepareViews(drawn, viewsOf(drawn), []),
    called: (id) => calledIn(source, id),
  };
  return LINT_RULES.flatMap((rule) => RULES[rule](look).map((finding) => ({ rule, ...finding })));
}

const viewsOf = (source: SheetSource | null): readonly SheetView[] => {
  const views = source?.exercise.sheet?.views ?? [];
  return views.length === 0 ? DEFAULT_SHEET.views : views;
};

function calledIn(source: SheetSource | null, id: string | undefined): string {
  const check = source?.exercise.checks.find((one) => one.id === id);
  if (check !== undefined) return `"${check.label}"`;
  const view = viewsOf(source).find((one) => one.id === id);
  if (view === undefined) return id === undefined ? 'the part' : `"${id}"`;
  switch (view.kind) {
    case 'plain':
      return `the ${view.direction} view`;
    case 'isometric':
      return 'the pictorial view';
    case 'section':
      return `section ${view.letter}-${view.letter}`;
    case 'detail':
      return `detail ${view.letter}`;
  }
}
