import { DIRECTION_NAMES, isPrincipal, type SheetSettings, type SheetView } from '#core/exercise';
import { Panel, SelectField, Toggle } from '#web/ui';

import { ExpressionInput } from './form/expression.tsx';
import { nameOf, type PutSheet } from './sheet-arrange.ts';

const SMALL = 'h-7 border border-ink/50 bg-paper px-1';
const FACTORS = [2, 4, 5, 10, 20] as const;
const FRESH = [...DIRECTION_NAMES, 'pictorial', 'section', 'detail'] as const;
type Fresh = (typeof FRESH)[number];

function freshView(kind: Fresh, letter: string, views: readonly SheetView[], middle = '0'): SheetView {
  const small = letter.toLowerCase();
  switch (kind) {
    case 'pictorial':
      return { kind: 'isometric', id: 'isometric' };
    case 'section':
      return { kind: 'section', id: `section-${small}`, direction: 'right', letter, at: middle };
    case 'detail': {
      const of = views.find((view) => isPrincipal(view))?.id ?? 'front';
      return { kind: 'detail', id: `detail-${small}`, of, letter, center: ['0', '0'], radius: '10', factor: 2 };
    }
    default:
      return { kind: 'plain', id: kind, direction: kind };
  }
}

/** The views of the sheet: which there are, where sections cut and what details show. */
export function ViewsPanel({
  settings,
  middle,
  onPut,
}: {
  settings: SheetSettings;
  /** Where a section through the middle of the part cuts. */
  middle: string;
  onPut: PutSheet;
}) {
  const { views } = settings;
  const used = views.flatMap((view) => ('letter' in view ? view.letter : []));
  const letter = ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H'].find((one) => !used.includes(one)) ?? 'Z';
  const change = (place: number, changes: object, topic: string): void => {
    onPut(
      (before) => ({
        ...before,
        views: before.views.map((view, i) => (i === place ? Object.assign({}, view, changes) : view)),
      }),
      `view ${String(place)} ${topic}`,
    );
  };
  const length = (label: string, value: string, onValue: (text: string) => void) => (
    <ExpressionInput
      label={label}
      quantity="length"
      value={value}
      onChange={(text) => {
        if (text !== undefined) onValue(text);
      }}
    />
  );
  return (
    <Panel title="Views">
      <ul className="divide-y divide-rule text-sm">
        {views.map((view, place) => (
          <li key={view.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 px-3 py-1.5">
            <b className="w-24">{nameOf(view)}</b>
            {isPrincipal(view) && (
              <Toggle
                label="hidden lines"
                on={view.kind === 'plain' ? view.hidden !== false : view.hidden === true}
                onChange={(hidden) => change(place, { hidden }, 'hidden')}
              />
            )}
            {'of' in view ? null : (
              <Toggle
                label="tangent edges"
                on={view.tangent === true}
                onChange={(tangent) => change(place, { tangent }, 'tangent')}
              />
            )}
            {isPrincipal(view) && (
              <Toggle
                label="counted from one face"
                on={view.ordinate === true}
                onChange={(ordinate) => change(place, { ordinate }, 'ordinate')}
              />
            )}
            {view.kind === 'isometric' && (
              <Toggle
                label="shaded"
                on={view.shaded === true}
                onChange={(shaded) => change(place, { shaded }, 'shaded')}
              />
            )}
            {view.kind === 'section' && (
              <>
                <label className="flex items-center gap-1.5">
                  seen from the
                  <select
                    className={SMALL}
                    value={view.direction}
                    onChange={(event) => {
                      change(place, { direction: event.target.value }, 'direction');
                    }}
                  >
                    {DIRECTION_NAMES.map((name) => (
                      <option key={name}>{name}</option>
                    ))}
                  </select>
                </label>
                {length('plane at', view.at, (at) => change(place, { at }, 'at'))}
                <Toggle
                  label="half only"
                  on={view.half === true}
                  onChange={(half) => change(place, { half: half ? true : undefined }, 'half')}
                />
                {view.steps?.map((step, i) => (
                  <span key={i} className="flex gap-2">
                    {length('beyond', step.beyond, (beyond) =>
                      change(
                        place,
                        { steps: view.steps?.map((one, j) => (j === i ? { ...one, beyond } : one)) },
                        'step',
                      ),
                    )}
                    {length('at', step.at, (at) =>
                      change(place, { steps: view.steps?.map((one, j) => (j === i ? { ...one, at } : one)) }, 'step'),
                    )}
                  </span>
                ))}
                <button
                  type="button"
                  className="cursor-pointer underline"
                  onClick={() => {
                    change(place, { steps: [...(view.steps ?? []), { beyond: '0', at: view.at }] }, 'steps');
                  }}
                >
                  Add an offset
                </button>
              </>
            )}
            {view.kind === 'detail' && (
              <>
                <label className="flex items-center gap-1.5">
                  of
                  <select
                    className={SMALL}
                    value={view.of}
                    onChange={(event) => {
                      change(place, { of: event.target.value }, 'of');
                    }}
                  >
                    {views.filter(isPrincipal).map((one) => (
                      <option key={one.id} value={one.id}>
                        {nameOf(one)}
                      </option>
                    ))}
                  </select>
                </label>
                {length('across', view.center[0], (x) => change(place, { center: [x, view.center[1]] }, 'x'))}
                {length('up', view.center[1], (y) => change(place, { center: [view.center[0], y] }, 'y'))}
                {length('radius', view.radius, (radius) => change(place, { radius }, 'radius'))}
                <label className="flex items-center gap-1.5">
                  times larger
                  <select
                    className={SMALL}
                    value={view.factor}
                    onChange={(event) => {
                      change(place, { factor: Number(event.target.value) }, 'factor');
                    }}
                  >
                    {[...new Set([...FACTORS, view.factor])].map((factor) => (
                      <option key={factor}>{factor}</option>
                    ))}
                  </select>
                </label>
              </>
            )}
            <button
              type="button"
              className="ml-auto cursor-pointer underline"
              aria-label={`Remove ${nameOf(view)}`}
              onClick={() => {
                onPut((before) => ({ ...before, views: before.views.filter((_, i) => i !== place) }), 'views');
              }}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
      <div className="px-3 py-2">
        <SelectField
          label="Add a view"
          value=""
          onChange={(event) => {
            const kind = FRESH.find((name) => name === event.target.value);
            if (kind !== undefined)
              onPut(
                (before) => ({ ...before, views: [...before.views, freshView(kind, letter, before.views, middle)] }),
                'views',
              );
          }}
        >
          <option value="">choose a view</option>
          {FRESH.filter((name) => !views.some(({ id }) => id === freshView(name, letter, views).id)).map((name) => (
            <option key={name} value={name}>
              {name === 'section' || name === 'detail' ? name : `${name} view`}
            </option>
          ))}
        </SelectField>
      </div>
    </Panel>
  );
}
