import { DEFAULT_SHEET, type Exercise, type SheetView } from '#core/exercise';
import type { Sheet, SheetEntity } from '#core/sheet';
import type { Vec2 } from '#core/vector';

import { WORD_IDS, type WordId } from './words.ts';

interface ReadSheet {
  readonly sheet: Pick<Sheet, 'pages'>;
  readonly exercise: Pick<Exercise, 'projection' | 'sheet' | 'recipe'>;
}

/** What is written at the views: dimensions and notes of features, none of the title block. */
const writtenAt = ({ sheet }: ReadSheet): readonly string[] =>
  entitiesOf(sheet).flatMap((entity) => (entity.kind === 'text' && entity.checkId !== undefined ? [entity.text] : []));

const entitiesOf = (sheet: ReadSheet['sheet']): readonly SheetEntity[] =>
  sheet.pages.flatMap(({ entities }) => entities);

const writes =
  (pattern: RegExp) =>
  (sheet: ReadSheet): boolean =>
    writtenAt(sheet).some((text) => pattern.test(text));

const hasLine =
  (layer: string) =>
  ({ sheet }: ReadSheet): boolean =>
    entitiesOf(sheet).some((entity) => 'layer' in entity && entity.layer === layer);

const hasView =
  (is: (view: SheetView) => boolean) =>
  ({ exercise }: ReadSheet): boolean =>
    (exercise.sheet ?? DEFAULT_SHEET).views.some(is);

/** Letters as they are written, alone or in a sum: "B", "B + 6". */
const lettersOf = ({ exercise }: ReadSheet): RegExp | null => {
  const names = exercise.recipe.parameters.map(({ name }) => name);
  return names.length === 0 ? null : new RegExp(`(^|[^A-Za-z])(${names.join('|')})([^A-Za-z]|$)`);
};

/** What a linear dimension of a view spans along its direction, from arrow to arrow. */
interface Span {
  readonly checkId: string;
  /** View and direction: only spans with the same one are beside each other. */
  readonly row: string;
  readonly across: number;
  readonly from: number;
  readonly to: number;
}

/** Arrowheads of the same place, paper mm. */
const SAME_MM = 0.05;

function spansOf({ sheet }: ReadSheet): readonly Span[] {
  return sheet.pages.flatMap(({ entities }, page) => {
    const arrows = new Map<string, Extract<SheetEntity, { kind: 'arrow' }>[]>();
    for (const entity of entities)
      if (entity.kind === 'arrow' && entity.checkId !== undefined)
        arrows.set(entity.checkId, [...(arrows.get(entity.checkId) ?? []), entity]);
    return [...arrows].flatMap(([checkId, [one, other, ...more]]) => {
      if (one === undefined || other === undefined || more.length > 0) return [];
      const apart: Vec2 = [other.tip[0] - one.tip[0], other.tip[1] - one.tip[1]];
      const length = Math.hypot(apart[0], apart[1]);
      if (length < 1) return [];
      // The arrows lie on one line, whichever way they point.
      const along: Vec2 = [apart[0] / length, apart[1] / length];
      if (Math.abs(Math.cos(one.angle) * along[1] - Math.sin(one.angle) * along[0]) > 1e-3) return [];
      const isUp = Math.abs(along[0]) < 1e-3;
      if (!isUp && Math.abs(along[1]) > 1e-3) return [];
      const place = isUp ? 1 : 0;
      const ends = [one.tip[place], other.tip[place]];
      const row = `${String(page)} ${one.viewId ?? ''} ${isUp ? 'up' : 'across'}`;
      return [{ checkId, row, across: one.tip[1 - place] ?? 0, from: Math.min(...ends), to: Math.max(...ends) }];
    });
  });
}

const isSame = (a: number, b: number): boolean => Math.abs(a - b) < SAME_MM;

/** Two dimensions beside each other that begin at one edge and end at different ones. */
const hasBaseline = (sheet: ReadSheet): boolean =>
  pairsOf(sheet).some(
    ([a, b]) => (isSame(a.from, b.from) && !isSame(a.to, b.to)) || (isSame(a.to, b.to) && !isSame(a.from, b.from)),
  ) || hasView((view) => 'ordinate' in view && view.ordinate === true)(sheet);

/** Two dimensions on one line, of which one begins where the other ends. */
const hasChain = (sheet: ReadSheet): boolean =>
  pairsOf(sheet).some(([a, b]) => isSame(a.across, b.across) && (isSame(a.to, b.from) || isSame(b.to, a.from)));

function pairsOf(sheet: ReadSheet): readonly (readonly [Span, Span])[] {
  const spans = spansOf(sheet);
  return spans.flatMap((a, i) => spans.slice(i + 1).flatMap((b) => (a.row === b.row ? [[a, b] as const] : [])));
}

const FOUND: Readonly<Record<WordId, (sheet: ReadSheet) => boolean>> = {
  'first-angle': ({ exercise }) => exercise.projection === 'first-angle',
  'third-angle': ({ exercise }) => exercise.projection === 'third-angle',
  pictorial: hasView(({ kind }) => kind === 'isometric'),
  'hidden-line': hasLine('hidden'),
  'center-line': hasLine('center'),
  section: hasView(({ kind }) => kind === 'section'),
  'half-section': hasView((view) => view.kind === 'section' && view.half === true),
  'stepped-section': hasView((view) => view.kind === 'section' && (view.steps?.length ?? 0) > 0),
  detail: hasView(({ kind }) => kind === 'detail'),
  letter: (sheet) => {
    const letters = lettersOf(sheet);
    return sheet.exercise.sheet?.letters !== 'values' && letters !== null && writes(letters)(sheet);
  },
  baseline: hasBaseline,
  chain: hasChain,
  diameter: writes(/⌀/),
  radius: writes(/(^|\s)R\s?[\d.A-Z]/),
  count: writes(/^\d+ x(\s|$)/),
  'bolt-circle': writes(/bolt circle/),
  'equally-spaced': writes(/equally spaced|apart/),
  through: writes(/through/),
  depth: writes(/↧/),
  counterbore: writes(/⌴/),
  countersink: writes(/⌵/),
  thread: writes(/(^|\s)M\d/),
  chamfer: writes(/\d x [\d.]+°/),
};

/** The words and signs that a sheet uses, in the order of `WORDS`. Says nothing that the sheet does not show. */
export const wordsOf = (sheet: ReadSheet): readonly WordId[] => WORD_IDS.filter((id) => FOUND[id](sheet));
