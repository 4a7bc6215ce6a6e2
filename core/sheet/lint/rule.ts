import type { Vec2 } from '#core/vector';

import type { Sheet, SheetEntity, SheetPage, SheetText } from '../model.ts';
import { boxOf, type PaperBox, type Stroke } from '../overlap.ts';
import type { PreparedView, SheetSource } from '../prepare.ts';

import { strokesOf } from './strokes.ts';

/** Rules of a sound drawing, by what holds where they are kept. */
export const LINT_RULES = [
  'texts-apart',
  'text-clear-of-lines',
  'text-outside-part',
  'text-in-frame',
  'text-whole',
  'sign-once',
  'one-count',
  'letter-at-size',
  'leaders-apart',
  'dimension-line-clear',
  'extension-line-short',
  'ends-visible',
  'outline-closed',
  'view-adds',
] as const;
export type LintRule = (typeof LINT_RULES)[number];

/** A place of a sheet at which a rule of drawing is broken. */
export interface LintFinding {
  readonly rule: LintRule;
  /** The check or the view that it is about, by id; empty for the sheet as a whole. */
  readonly where: string;
  readonly words: string;
}

/** A stroke of a page with the element that it is of. */
export type DrawnStroke = Stroke & { readonly entity: SheetEntity };

/** A page as its rules look at it. */
export interface LookedAtPage {
  readonly page: SheetPage;
  readonly texts: readonly SheetText[];
  readonly strokes: readonly DrawnStroke[];
  /** Tips of arrows. */
  readonly tips: readonly Vec2[];
}

/** What a rule looks at: what is drawn and, for rules that ask for more than paper, what it was drawn from. */
export interface Look {
  readonly sheet: Pick<Sheet, 'pages' | 'dimensions'>;
  readonly pages: readonly LookedAtPage[];
  /** Null for a sheet that was not drawn from a part, which has no views either. */
  readonly source: SheetSource | null;
  readonly views: readonly PreparedView[];
  /** How a check or a view is called in a sentence. */
  readonly called: (id: string | undefined) => string;
}

/** Looks for the places where a rule is broken. */
export type LintRuleCheck = (look: Look) => readonly Omit<LintFinding, 'rule'>[];

const isText = (entity: SheetEntity): entity is SheetText => entity.kind === 'text';

/** The texts, strokes and tips of a page. */
export const lookedAt = (page: SheetPage): LookedAtPage => ({
  page,
  texts: page.entities.filter(isText),
  strokes: page.entities.flatMap((entity) => strokesOf(entity).map((stroke) => ({ ...stroke, entity }))),
  tips: page.entities.flatMap((entity) => (entity.kind === 'arrow' ? [entity.tip] : [])),
});

/** The kind of line that a stroke is of. */
export const layerOf = ({ entity }: DrawnStroke): string | undefined => ('layer' in entity ? entity.layer : undefined);

/** The paper that the visible lines of each view of a page cover. */
export function outlineBoxes({ strokes }: LookedAtPage): ReadonlyMap<string, PaperBox> {
  const outlines = new Map<string, Vec2[]>();
  for (const stroke of strokes) {
    const { viewId } = stroke.entity;
    if (layerOf(stroke) !== 'visible' || viewId === undefined) continue;
    const points = outlines.get(viewId) ?? [];
    points.push(stroke.from, stroke.to);
    outlines.set(viewId, points);
  }
  return new Map([...outlines].map(([viewId, points]) => [viewId, boxOf(points)]));
}
