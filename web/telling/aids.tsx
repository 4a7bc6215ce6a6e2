import type { Aids } from '#api';
import { OPERATIONS, operationName, type Operation } from '#core/recipe';
import { TOPICS } from '#core/reading';
import { TOPIC_WORDS } from '#web/reading';
import { SelectField, Toggle } from '#web/ui';

import { optionsOf } from './words.tsx';

const ROUNDS: Readonly<Record<Aids['round'], string>> = {
  none: 'Not there',
  offered: 'Offered',
  counted: 'Counted: points off for what is not measured',
  asked: 'To be done before a hand-in is taken',
};

const PLANS: Readonly<Record<Aids['plan'], string>> = {
  none: 'Not there',
  offered: 'Offered',
  asked: 'To be made before a hand-in is taken',
};

const SIZES: Readonly<Record<Aids['sizes'], string>> = {
  none: 'No help',
  link: 'One link at a time',
  chain: 'The whole chain',
};

const WORKED: Readonly<Record<Aids['worked'], string>> = {
  none: 'With the answers',
  shown: 'Worked together, from the start',
};

const TIMES: Readonly<Record<Aids['time'], string>> = {
  own: 'Their own notes',
  shared: 'You read the sum',
};

const READINGS = { none: 'Not offered', all: 'Of every topic', some: 'Of some topics' } as const;

const BUILDINGS = {
  none: 'Not offered',
  all: 'With every operation',
  some: 'With some operations',
} as const;

/** Operations that most first parts are made of. */
const FIRST_CHOICE: readonly Operation[] = ['extrude', 'hole', 'fillet', 'chamfer'];

interface AidsFieldsProps {
  readonly aids: Aids;
  readonly onChange: (aids: Aids) => void;
}

/** What students may use while they work: going round the sheet, help with sizes, building in the page. */
export function AidsFields({ aids, onChange }: AidsFieldsProps) {
  const { building, reading } = aids;
  const isSome = typeof building !== 'string';
  return (
    <fieldset className="grid gap-x-4 gap-y-1 sm:grid-cols-2">
      <legend className="mb-1 text-sm font-medium">While students work</legend>
      <SelectField
        label="Dimension round"
        hint="They tick off each dimension of the sheet with what they read off their own model."
        value={aids.round}
        onChange={(event) => {
          onChange({ ...aids, round: event.target.value as Aids['round'] });
        }}
      >
        {optionsOf(ROUNDS)}
      </SelectField>
      <SelectField
        label="Plan of building"
        hint="Steps with the sizes that they take, in order. It is the list of build steps of the hand-in."
        value={aids.plan}
        onChange={(event) => {
          onChange({ ...aids, plan: event.target.value as Aids['plan'] });
        }}
      >
        {optionsOf(PLANS)}
      </SelectField>
      <SelectField
        label="Sizes that the sheet does not state"
        hint="How they follow from those that it states."
        value={aids.sizes}
        onChange={(event) => {
          onChange({ ...aids, sizes: event.target.value as Aids['sizes'] });
        }}
      >
        {optionsOf(SIZES)}
      </SelectField>
      <SelectField
        label="Building in the page"
        hint="For students without a modeling program. Solid and build steps are handed in."
        value={isSome ? 'some' : building}
        onChange={(event) => {
          const chosen = event.target.value as keyof typeof BUILDINGS;
          onChange({ ...aids, building: chosen === 'some' ? [...FIRST_CHOICE] : chosen });
        }}
      >
        {optionsOf(BUILDINGS)}
      </SelectField>
      <SelectField
        label="Reading practice"
        hint="Short questions that the sheet answers."
        value={typeof reading === 'string' ? reading : 'some'}
        onChange={(event) => {
          const chosen = event.target.value as keyof typeof READINGS;
          onChange({ ...aids, reading: chosen === 'some' ? [...TOPICS] : chosen });
        }}
      >
        {optionsOf(READINGS)}
      </SelectField>
      <SelectField
        label="Steps of the reference"
        hint="For a first lesson: on the part and the sheet, with the student's own values."
        value={aids.worked}
        onChange={(event) => {
          onChange({ ...aids, worked: event.target.value as Aids['worked'] });
        }}
      >
        {optionsOf(WORKED)}
      </SelectField>
      <SelectField
        label="Time log"
        hint="When they begin and pause, by their own notes."
        value={aids.time}
        onChange={(event) => {
          onChange({ ...aids, time: event.target.value as Aids['time'] });
        }}
      >
        {optionsOf(TIMES)}
      </SelectField>
      {typeof reading !== 'string' && (
        <div className="col-span-full grid grid-cols-2 gap-x-4 gap-y-1 border border-rule p-2">
          {TOPICS.map((topic) => (
            <Toggle
              key={topic}
              label={TOPIC_WORDS[topic]}
              on={reading.includes(topic)}
              onChange={(on) => {
                const next = TOPICS.filter((one) => (one === topic ? on : reading.includes(one)));
                onChange({ ...aids, reading: next.length === 0 ? 'none' : next });
              }}
            />
          ))}
        </div>
      )}
      {isSome && (
        <div className="col-span-full grid grid-cols-2 gap-x-4 gap-y-1 border border-rule p-2 sm:grid-cols-3">
          {OPERATIONS.map((operation) => (
            <Toggle
              key={operation}
              label={operationName(operation)}
              on={building.includes(operation)}
              onChange={(on) => {
                const next = OPERATIONS.filter((one) => (one === operation ? on : building.includes(one)));
                onChange({ ...aids, building: next.length === 0 ? 'none' : next });
              }}
            />
          ))}
        </div>
      )}
    </fieldset>
  );
}
