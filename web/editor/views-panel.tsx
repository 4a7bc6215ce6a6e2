import { DIRECTION_NAMES, isPrincipal, type SheetSettings, type SheetView } from '#core/exercise';
import { Button, Panel, SelectField } from '#web/ui';

import type { PutSheet } from './sheet-arrange.ts';
import { ViewRow } from './view-row.tsx';

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
  onSuggest,
}: {
  settings: SheetSettings;
  /** Where a section through the middle of the part cuts. */
  middle: string;
  onPut: PutSheet;
  /** The views that the part asks for; null where it cannot be built. */
  onSuggest: () => Promise<readonly SheetView[] | null>;
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
  return (
    <Panel title="Views">
      <ul className="divide-y divide-rule text-sm">
        {views.map((view, place) => (
          <ViewRow
            key={view.id}
            view={view}
            views={views}
            onChange={(changes, topic) => {
              change(place, changes, topic);
            }}
            onRemove={() => {
              onPut((before) => ({ ...before, views: before.views.filter((_, i) => i !== place) }), 'views');
            }}
          />
        ))}
      </ul>
      <div className="flex flex-col gap-2 px-3 py-2">
        <span>
          <Button
            onClick={() => {
              void onSuggest().then((suggested) => {
                if (suggested !== null) onPut((before) => ({ ...before, views: suggested }), 'views');
              });
            }}
          >
            Choose views by the part
          </Button>
        </span>
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
