import { Crosshair, Plus, X } from 'lucide-react';
import { useId } from 'react';

import type { EdgeSelector } from '#core/recipe';

import { useForm } from './context.ts';
import { ExpressionInput } from './expression.tsx';
import { Select } from './select.tsx';

const BOX = 'h-7 w-36 border border-ink/50 bg-paper px-1.5';
const SMALL =
  'inline-flex h-7 cursor-pointer items-center gap-1 border border-ink/50 bg-paper px-1.5 text-xs hover:bg-accent-soft aria-pressed:bg-accent aria-pressed:text-onaccent';

/** Lets surfaces be picked in the part for a field. */
export function PickButton({
  count = 1,
  label,
  onPicked,
}: {
  count?: number;
  label: string;
  onPicked: (names: readonly string[]) => void;
}) {
  const id = useId();
  const { picking, pick } = useForm();
  return (
    <button
      type="button"
      className={SMALL}
      aria-pressed={picking === id}
      aria-label={`Pick ${label} in the part`}
      title="Pick in the part"
      onClick={() => {
        pick(id, count, onPicked);
      }}
    >
      <Crosshair size={13} aria-hidden />
    </button>
  );
}

/** The name of a surface: typed, chosen from those of the part, or picked in it. */
export function SurfaceInput({
  label,
  value,
  onChange,
  bare = false,
  none,
}: {
  label: string;
  value: string | undefined;
  onChange: (value: string) => void;
  bare?: boolean;
  /** What holds when no surface is named. */
  none?: string;
}) {
  const id = useId();
  const { surfaces } = useForm();
  const known = value === undefined || surfaces.includes(value);
  return (
    <span className="inline-flex items-center gap-1">
      <label htmlFor={id} className={bare ? 'sr-only' : 'text-xs text-soft'}>
        {label}
      </label>
      <select
        id={id}
        className={`${BOX} ${known ? '' : 'border-wrong'}`}
        value={value ?? ''}
        onChange={(event) => {
          if (event.target.value !== '') onChange(event.target.value);
        }}
      >
        {none !== undefined && <option value="">{none}</option>}
        {!known && <option value={value}>{value} (not on the part)</option>}
        {surfaces.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      <PickButton
        label={label.toLowerCase()}
        onPicked={([name]) => {
          if (name !== undefined) onChange(name);
        }}
      />
    </span>
  );
}

const EDGE_KINDS = [
  ['between', 'between two surfaces'],
  ['around', 'all around a surface'],
  ['along', 'along an axis'],
  ['every', 'every edge'],
  ['near', 'nearest to a point'],
] as const;
type EdgeKind = (typeof EDGE_KINDS)[number][0];

const edgeKind = (selector: EdgeSelector): EdgeKind => EDGE_KINDS.find(([kind]) => kind in selector)?.[0] ?? 'between';

function freshEdge(kind: EdgeKind, surfaces: readonly string[]): EdgeSelector {
  const [first = 'base.end', second = 'base.right'] = surfaces;
  switch (kind) {
    case 'between':
      return { between: [first, second] };
    case 'around':
      return { around: first };
    case 'along':
      return { along: 'z' };
    case 'every':
      return { every: 'convex' };
    case 'near':
      return { near: ['0', '0', '0'] };
  }
}

/** The edges of a round or a chamfer. */
export function EdgesInput({
  value,
  onChange,
}: {
  value: readonly EdgeSelector[];
  onChange: (value: readonly EdgeSelector[]) => void;
}) {
  const { surfaces } = useForm();
  const replace = (index: number, selector: EdgeSelector) => {
    onChange(value.map((other, i) => (i === index ? selector : other)));
  };
  return (
    <fieldset className="w-full">
      <legend className="text-xs text-soft">Edges</legend>
      <ul className="flex flex-col gap-1">
        {value.map((selector, i) => (
          <li key={i} className="flex flex-wrap items-center gap-1">
            <Select
              label={`Edges ${String(i + 1)}`}
              bare
              value={edgeKind(selector)}
              options={EDGE_KINDS}
              onChange={(kind) => {
                replace(i, freshEdge(kind as EdgeKind, surfaces));
              }}
            />
            <EdgeFields selector={selector} onChange={(next) => replace(i, next)} />
            {value.length > 1 && (
              <button
                type="button"
                className={SMALL}
                aria-label={`Remove edges ${String(i + 1)}`}
                onClick={() => {
                  onChange(value.filter((_, j) => j !== i));
                }}
              >
                <X size={13} aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ul>
      <span className="mt-1 flex gap-1">
        <button
          type="button"
          className={SMALL}
          onClick={() => {
            onChange([...value, freshEdge('between', surfaces)]);
          }}
        >
          <Plus size={13} aria-hidden /> More edges
        </button>
        <PickButton
          label="an edge by its two surfaces"
          count={2}
          onPicked={([a, b]) => {
            if (a !== undefined && b !== undefined) onChange([...value, { between: [a, b] }]);
          }}
        />
      </span>
    </fieldset>
  );
}

function EdgeFields({ selector, onChange }: { selector: EdgeSelector; onChange: (selector: EdgeSelector) => void }) {
  if ('between' in selector) {
    const [a, b] = selector.between;
    return (
      <>
        <SurfaceInput label="One surface" bare value={a} onChange={(name) => onChange({ between: [name, b] })} />
        <SurfaceInput label="Other surface" bare value={b} onChange={(name) => onChange({ between: [a, name] })} />
      </>
    );
  }
  if ('around' in selector)
    return (
      <SurfaceInput
        label="Surface"
        bare
        value={selector.around}
        onChange={(around) => onChange({ ...selector, around })}
      />
    );
  if ('along' in selector)
    return (
      <>
        <Select
          label="Axis"
          bare
          value={selector.along}
          options={[
            ['x', 'X'],
            ['y', 'Y'],
            ['z', 'Z'],
          ]}
          onChange={(along) => onChange({ ...selector, along: along as 'x' | 'y' | 'z' })}
        />
        <ExpressionInput
          label="How many"
          quantity="count"
          optional="any number"
          value={selector.count}
          onChange={(count) => {
            const { count: _, ...rest } = selector;
            onChange(count === undefined ? rest : { ...rest, count });
          }}
        />
      </>
    );
  if ('every' in selector)
    return (
      <Select
        label="Which"
        bare
        value={selector.every}
        options={[
          ['convex', 'outer edges'],
          ['concave', 'inner corners'],
          ['edge', 'both'],
        ]}
        onChange={(every) => onChange({ ...selector, every: every as 'convex' | 'concave' | 'edge' })}
      />
    );
  const { near } = selector;
  return (
    <>
      {(['X', 'Y', 'Z'] as const).map((name, i) => (
        <ExpressionInput
          key={name}
          label={name}
          quantity="length"
          value={near[i]}
          onChange={(text) => {
            const [x, y, z] = near.map((old, j) => (j === i ? (text ?? '0') : old));
            onChange({ near: [x ?? '0', y ?? '0', z ?? '0'] });
          }}
        />
      ))}
    </>
  );
}
