import { useState } from 'react';

import type { Exercise } from '#core/exercise';
import { OPERATIONS, type BuildRule, operationName, type Operation } from '#core/recipe';
import { MATERIALS } from '#core/material';
import { Button, NumberField, Panel, RootCauseToggle, SelectField, TextField } from '#web/ui';

import { Likelihoods } from './likelihoods.tsx';
import { PRESETS } from './presets.ts';

interface AboutTabProps {
  readonly exercise: Exercise;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

const LEVELS = ['introduction', 'basic', 'intermediate', 'advanced'] as const;

/** What the student reads, what the part is made of, how it should be built, and how it is scored. */
export function AboutTab({ exercise, onChange }: AboutTabProps) {
  const put = (changes: Partial<Exercise>, topic: string | null = null) => {
    onChange((before) => ({ ...before, ...changes }), topic);
  };
  return (
    <div className="grid items-start gap-4 lg:grid-cols-2">
      <Panel title="For the student">
        <div className="flex flex-col gap-2 px-3 py-3">
          <TextField
            label="Title"
            value={exercise.title}
            maxLength={80}
            onChange={(event) => {
              if (event.target.value.trim() !== '') put({ title: event.target.value }, 'title');
            }}
          />
          <label className="text-sm font-medium">
            Description
            <textarea
              className="mt-1 h-24 w-full border border-ink/60 bg-paper p-2 font-normal"
              maxLength={1000}
              value={exercise.brief}
              onChange={(event) => {
                put({ brief: event.target.value }, 'brief');
              }}
            />
          </label>
          <TextField
            label="Origin and orientation, in words"
            maxLength={200}
            value={exercise.origin}
            onChange={(event) => {
              put({ origin: event.target.value }, 'origin');
            }}
          />
          <label className="text-sm font-medium">
            Notes on the sheet, one a line
            <textarea
              className="mt-1 h-20 w-full border border-ink/60 bg-paper p-2 font-normal"
              value={exercise.notes.join('\n')}
              onChange={(event) => {
                const notes = event.target.value.split('\n').slice(0, 12);
                put({ notes: notes.map((note) => note.slice(0, 2000)) }, 'notes');
              }}
            />
          </label>
          <span className="grid grid-cols-3 gap-3">
            <SelectField
              label="Level"
              value={exercise.level}
              onChange={(event) => {
                put({ level: event.target.value as Exercise['level'] });
              }}
            >
              {LEVELS.map((level) => (
                <option key={level}>{level}</option>
              ))}
            </SelectField>
            <SelectField
              label="Projection"
              value={exercise.projection}
              onChange={(event) => {
                put({ projection: event.target.value as Exercise['projection'] });
              }}
            >
              <option value="first-angle">first angle</option>
              <option value="third-angle">third angle</option>
            </SelectField>
            <SelectField
              label="Decimals"
              value={String(exercise.decimals)}
              onChange={(event) => {
                put({ decimals: Number(event.target.value) });
              }}
            >
              {[0, 1, 2, 3, 4].map((decimals) => (
                <option key={decimals}>{decimals}</option>
              ))}
            </SelectField>
          </span>
        </div>
      </Panel>
      <div className="flex flex-col gap-4">
        <MaterialPanel exercise={exercise} onChange={onChange} />
        <ScoringPanel exercise={exercise} onChange={onChange} />
        <RulesPanel exercise={exercise} onChange={onChange} />
        <Likelihoods exercise={exercise} onChange={onChange} />
      </div>
    </div>
  );
}

function MaterialPanel({ exercise: { material }, onChange }: AboutTabProps) {
  const [density, setDensity] = useState(String(material.densityGPerCm3));
  const inTable = MATERIALS.some(({ id }) => id === material.id);
  return (
    <Panel title="Material">
      <div className="grid grid-cols-3 gap-3 px-3 py-3">
        <SelectField
          label="From the table"
          value={inTable ? material.id : 'custom'}
          onChange={(event) => {
            const chosen = MATERIALS.find(({ id }) => id === event.target.value);
            const next = chosen ? { ...chosen } : { ...material, id: 'custom', source: 'given by the instructor' };
            setDensity(String(next.densityGPerCm3));
            onChange((before) => ({ ...before, material: next }));
          }}
        >
          {MATERIALS.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
          <option value="custom">own material</option>
        </SelectField>
        <TextField
          label="Name"
          value={material.name}
          maxLength={60}
          onChange={(event) => {
            const name = event.target.value;
            if (name.trim() !== '')
              onChange(
                (before) => ({
                  ...before,
                  material: { ...before.material, id: 'custom', name, source: 'given by the instructor' },
                }),
                'material name',
              );
          }}
        />
        <TextField
          label="Density, g/cm³"
          value={density}
          hint={material.source}
          error={Number(density) >= 0.01 && Number(density) <= 30 ? undefined : 'From 0.01 to 30'}
          onChange={(event) => {
            const text = event.target.value.replace(',', '.');
            setDensity(text);
            const value = Number(text);
            if (value >= 0.01 && value <= 30)
              onChange(
                (before) => ({
                  ...before,
                  material: { ...before.material, densityGPerCm3: value, source: 'given by the instructor' },
                }),
                'density',
              );
          }}
        />
      </div>
    </Panel>
  );
}

function ScoringPanel({ exercise, onChange }: AboutTabProps) {
  const { scoring } = exercise;
  const field = (
    name: 'partialReach' | 'typedValueWeight' | 'notOneBodyCap' | 'ruleWeight',
    label: string,
    least: number,
    most: number,
  ) => (
    <NumberField
      label={label}
      least={least}
      most={most}
      value={scoring[name] ?? 0}
      onChange={(value) => {
        onChange((before) => ({ ...before, scoring: { ...before.scoring, [name]: value } }), `scoring ${name}`);
      }}
    />
  );
  return (
    <Panel title="Scoring">
      <div className="flex flex-col gap-3 px-3 py-3">
        <span className="flex flex-wrap gap-2">
          {PRESETS.map(({ name, words, apply }) => (
            <Button
              key={name}
              title={words}
              onClick={() => {
                onChange(apply);
              }}
            >
              {name}
            </Button>
          ))}
        </span>
        <span className="grid grid-cols-2 gap-3">
          {field('partialReach', 'Partial points up to, tolerances', 1, 100)}
          {field('typedValueWeight', 'Weight of a typed number', 0, 1000)}
          {field('notOneBodyCap', 'Most points if not one body, %', 0, 100)}
          {field('ruleWeight', 'Weight of a build rule', 0, 1000)}
        </span>
        <RootCauseToggle
          on={scoring.rootCauseOnce === true}
          onChange={(rootCauseOnce) => {
            onChange((before) => ({ ...before, scoring: { ...before.scoring, rootCauseOnce } }), 'root cause');
          }}
        />
      </div>
    </Panel>
  );
}

const RULE_KINDS = [
  ['required', 'must be used'],
  ['excluded', 'must not be used'],
  ['most-steps', 'most steps'],
  ['order', 'comes before'],
  ['through', 'through holes go through all'],
  ['symmetry', 'symmetry is used'],
  ['holds', 'stays right when its letters get other values'],
  ['one-body', 'one merged body'],
] as const;

function freshRule(kind: BuildRule['kind']): BuildRule {
  switch (kind) {
    case 'required':
    case 'excluded':
      return { kind, operation: 'hole' };
    case 'most-steps':
      return { kind, count: 10 };
    case 'order':
      return { kind, first: 'fillet', then: 'hole' };
    case 'through':
    case 'symmetry':
    case 'one-body':
    case 'holds':
      return { kind };
  }
}

function RulesPanel({ exercise: { rules }, onChange }: AboutTabProps) {
  const put = (next: readonly BuildRule[]) => {
    onChange((before) => ({ ...before, rules: [...next] }));
  };
  const operation = (label: string, value: Operation, onPick: (operation: Operation) => void) => (
    <select
      aria-label={label}
      className="h-7 border border-ink/50 bg-paper px-1"
      value={value}
      onChange={(event) => {
        onPick(event.target.value as Operation);
      }}
    >
      {OPERATIONS.map((name) => (
        <option key={name} value={name}>
          {operationName(name)}
        </option>
      ))}
    </select>
  );
  return (
    <Panel title="How it should be built">
      <ul className="flex flex-col">
        {rules.map((rule, i) => {
          const replace = (next: BuildRule) => {
            put(rules.map((other, j) => (j === i ? next : other)));
          };
          return (
            <li key={i} className="flex flex-wrap items-center gap-2 border-b border-rule px-3 py-1.5">
              {(rule.kind === 'required' || rule.kind === 'excluded') &&
                operation('Operation', rule.operation, (next) => {
                  replace({ ...rule, operation: next });
                })}
              {rule.kind === 'required' && (
                <select
                  aria-label="Or another operation"
                  className="h-7 border border-ink/50 bg-paper px-1"
                  value={rule.or?.[0] ?? ''}
                  onChange={(event) => {
                    const other = OPERATIONS.find((name) => name === event.target.value);
                    const { or: _, ...rest } = rule;
                    replace(other === undefined ? rest : { ...rest, or: [other] });
                  }}
                >
                  <option value="">and no other</option>
                  {OPERATIONS.filter((name) => name !== rule.operation).map((name) => (
                    <option key={name} value={name}>
                      or {operationName(name)}
                    </option>
                  ))}
                </select>
              )}
              {rule.kind === 'order' &&
                operation('First', rule.first, (next) => {
                  replace({ ...rule, first: next });
                })}
              <span>{RULE_KINDS.find(([kind]) => kind === rule.kind)?.[1]}</span>
              {rule.kind === 'order' &&
                operation('Then', rule.then, (next) => {
                  replace({ ...rule, then: next });
                })}
              {rule.kind === 'most-steps' && (
                <input
                  type="number"
                  aria-label="Most steps"
                  className="h-7 w-16 border border-ink/50 bg-paper px-1"
                  min={1}
                  max={100}
                  value={rule.count}
                  onChange={(event) => {
                    const count = Math.round(Number(event.target.value));
                    if (count >= 1 && count <= 100) replace({ ...rule, count });
                  }}
                />
              )}
              <button
                type="button"
                className="ml-auto cursor-pointer underline"
                aria-label={`Remove rule ${String(i + 1)}`}
                onClick={() => {
                  put(rules.filter((_, j) => j !== i));
                }}
              >
                Remove
              </button>
            </li>
          );
        })}
      </ul>
      <div className="flex flex-wrap gap-2 px-3 py-2">
        <SelectField
          label="Add a rule"
          value=""
          onChange={(event) => {
            if (event.target.value !== '') put([...rules, freshRule(event.target.value as BuildRule['kind'])]);
          }}
        >
          <option value="">choose a rule</option>
          {RULE_KINDS.map(([kind, words]) => (
            <option key={kind} value={kind}>
              {words}
            </option>
          ))}
        </SelectField>
      </div>
    </Panel>
  );
}
