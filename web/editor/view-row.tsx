import type { ReactNode } from 'react';

import { DIRECTION_NAMES, isPrincipal, type SheetView } from '#core/exercise';
import { Toggle } from '#web/ui';

import { ExpressionInput } from './form/expression.tsx';
import { nameOf } from './sheet-arrange.ts';

const FACTORS = [2, 4, 5, 10, 20] as const;

type OfKind<K extends SheetView['kind']> = Extract<SheetView, { kind: K }>;
/** Changes fields of the view; what was changed is the topic that undo goes by. */
type Change = (changes: object, topic: string) => void;

interface ViewRowProps {
  readonly view: SheetView;
  readonly views: readonly SheetView[];
  readonly onChange: Change;
  readonly onRemove: () => void;
}

/** A view of the sheet with what can be chosen of it. */
export function ViewRow({ view, views, onChange, onRemove }: ViewRowProps) {
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 px-3 py-1.5">
      <b className="w-24">{nameOf(view)}</b>
      <LinesOfView view={view} onChange={onChange} />
      {view.kind === 'section' && <SectionFields view={view} onChange={onChange} />}
      {view.kind === 'detail' && <DetailFields view={view} views={views} onChange={onChange} />}
      <button
        type="button"
        className="ml-auto cursor-pointer underline"
        aria-label={`Remove ${nameOf(view)}`}
        onClick={onRemove}
      >
        Remove
      </button>
    </li>
  );
}

function LinesOfView({ view, onChange }: { readonly view: SheetView; readonly onChange: Change }) {
  return (
    <>
      {isPrincipal(view) && (
        <Toggle
          label="hidden lines"
          on={view.kind === 'plain' ? view.hidden !== false : view.hidden === true}
          onChange={(hidden) => onChange({ hidden }, 'hidden')}
        />
      )}
      {'of' in view ? null : (
        <Toggle
          label="tangent edges"
          on={view.tangent === true}
          onChange={(tangent) => onChange({ tangent }, 'tangent')}
        />
      )}
      {isPrincipal(view) && (
        <Toggle
          label="counted from one face"
          on={view.ordinate === true}
          onChange={(ordinate) => onChange({ ordinate }, 'ordinate')}
        />
      )}
      {view.kind === 'isometric' && (
        <Toggle label="shaded" on={view.shaded === true} onChange={(shaded) => onChange({ shaded }, 'shaded')} />
      )}
    </>
  );
}

/** Where a section cuts, from where it is seen, and where its plane steps aside. */
function SectionFields({ view, onChange }: { readonly view: OfKind<'section'>; readonly onChange: Change }) {
  const step = (place: number, changes: object): void => {
    onChange({ steps: view.steps?.map((one, i) => (i === place ? { ...one, ...changes } : one)) }, 'step');
  };
  return (
    <>
      <Choose
        label="seen from the"
        value={view.direction}
        onChoose={(direction) => {
          onChange({ direction }, 'direction');
        }}
      >
        {DIRECTION_NAMES.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </Choose>
      <LengthInput label="plane at" value={view.at} onValue={(at) => onChange({ at }, 'at')} />
      <Toggle
        label="half only"
        on={view.half === true}
        onChange={(half) => onChange({ half: half ? true : undefined }, 'half')}
      />
      {view.steps?.map(({ beyond, at }, i) => (
        <span key={i} className="flex gap-2">
          <LengthInput label="beyond" value={beyond} onValue={(text) => step(i, { beyond: text })} />
          <LengthInput label="at" value={at} onValue={(text) => step(i, { at: text })} />
        </span>
      ))}
      <button
        type="button"
        className="cursor-pointer underline"
        onClick={() => {
          onChange({ steps: [...(view.steps ?? []), { beyond: '0', at: view.at }] }, 'steps');
        }}
      >
        Add an offset
      </button>
    </>
  );
}

interface DetailFieldsProps {
  readonly view: OfKind<'detail'>;
  readonly views: readonly SheetView[];
  readonly onChange: Change;
}

/** What a detail shows, and how much larger. */
function DetailFields({ view, views, onChange }: DetailFieldsProps) {
  const [x, y] = view.center;
  return (
    <>
      <Choose
        label="of"
        value={view.of}
        onChoose={(of) => {
          onChange({ of }, 'of');
        }}
      >
        {views.filter(isPrincipal).map((one) => (
          <option key={one.id} value={one.id}>
            {nameOf(one)}
          </option>
        ))}
      </Choose>
      <LengthInput label="across" value={x} onValue={(text) => onChange({ center: [text, y] }, 'x')} />
      <LengthInput label="up" value={y} onValue={(text) => onChange({ center: [x, text] }, 'y')} />
      <LengthInput label="radius" value={view.radius} onValue={(radius) => onChange({ radius }, 'radius')} />
      <Choose
        label="times larger"
        value={view.factor}
        onChoose={(factor) => {
          onChange({ factor: Number(factor) }, 'factor');
        }}
      >
        {[...new Set([...FACTORS, view.factor])].map((factor) => (
          <option key={factor}>{factor}</option>
        ))}
      </Choose>
    </>
  );
}

interface ChooseProps {
  readonly label: string;
  readonly value: string | number;
  readonly onChoose: (value: string) => void;
  readonly children: ReactNode;
}

function Choose({ label, value, onChoose, children }: ChooseProps) {
  return (
    <label className="flex items-center gap-1.5">
      {label}
      <select
        className="h-7 border border-ink/50 bg-paper px-1"
        value={value}
        onChange={(event) => {
          onChoose(event.target.value);
        }}
      >
        {children}
      </select>
    </label>
  );
}

interface LengthInputProps {
  readonly label: string;
  readonly value: string;
  readonly onValue: (text: string) => void;
}

function LengthInput({ label, value, onValue }: LengthInputProps) {
  return (
    <ExpressionInput
      label={label}
      quantity="length"
      value={value}
      onChange={(text) => {
        if (text !== undefined) onValue(text);
      }}
    />
  );
}
