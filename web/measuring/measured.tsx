import { useMemo, useState } from 'react';

import type { WorkDetail } from '#api';
import { massOf } from '#core/material';
import { describeEdge, describeFace, measureBetween, pickedEdge, type PickedEdge, type Reading } from '#core/measure';
import type { DrawingUnit } from '#core/quantity';
import type { Face } from '#core/solid';
import { Button, Panel } from '#web/ui';
import { ModelView } from '#web/viewer';
import type { InspectAnswer } from '#web/workshop';

import { lengthText, propertyText, readingText } from './figures.ts';

interface MeasuredProps {
  readonly answer: InspectAnswer;
  readonly work: WorkDetail;
}

/** What was picked: a face or an edge, by its number in the model. */
interface Pick {
  readonly kind: 'face' | 'edge';
  readonly id: number;
}

const idsOf = (picks: readonly Pick[], kind: Pick['kind']): ReadonlySet<number> =>
  new Set(picks.flatMap((pick) => (pick.kind === kind ? [pick.id] : [])));

/** A model in 3D with a measuring tool, and what it is as a whole. */
export function Measured({ answer, work }: MeasuredProps) {
  const [picked, setPicked] = useState<readonly Pick[]>([]);
  const [faces, edges] = useMemo(() => [idsOf(picked, 'face'), idsOf(picked, 'edge')], [picked]);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,1fr)_25rem]">
      <div className="h-[32rem] border border-rule">
        <ModelView
          model={answer.model}
          label="Your model"
          pickedFaces={faces}
          pickedEdges={edges}
          onPick={(faceId) => {
            setPicked(faceId === null ? [] : afterPick(picked, { kind: 'face', id: faceId }));
          }}
          onPickEdge={(id) => {
            setPicked(afterPick(picked, { kind: 'edge', id }));
          }}
        />
      </div>
      <div className="flex flex-col gap-4">
        <Tool
          answer={answer}
          picked={picked}
          unit={work.unit}
          onClear={() => {
            setPicked([]);
          }}
        />
        <Whole
          answer={answer}
          work={work}
          onMark={(faceIds) => {
            setPicked(faceIds.map((id) => ({ kind: 'face', id })));
          }}
        />
      </div>
    </div>
  );
}

/** A third one begins anew; one that is picked already is let go. */
function afterPick(picked: readonly Pick[], pick: Pick): readonly Pick[] {
  const others = picked.filter(({ kind, id }) => kind !== pick.kind || id !== pick.id);
  if (others.length < picked.length) return others;
  return picked.length >= 2 ? [pick] : [...picked, pick];
}

interface ToolProps {
  readonly answer: InspectAnswer;
  readonly picked: readonly Pick[];
  readonly unit: DrawingUnit;
  readonly onClear: () => void;
}

/** What is picked, as the model has it. */
function chosenOf({ faces, edges, model }: InspectAnswer, { kind, id }: Pick): Face | PickedEdge | undefined {
  if (kind === 'face') return faces.find((face) => face.id === id);
  const edge = edges.find((one) => one.id === id);
  const drawn = model.mesh.edges.find(({ edgeId }) => edgeId === id);
  return edge === undefined ? undefined : pickedEdge(edge, drawn?.points ?? [], faces);
}

/** What the picked faces and edges are, and how two lie to each other. */
function Tool({ answer, picked, unit, onClear }: ToolProps) {
  const chosen = picked.length > 2 ? [] : picked.flatMap((pick) => chosenOf(answer, pick) ?? []);
  const [first, second] = chosen;
  const between = first !== undefined && second !== undefined ? measureBetween(first, second) : [];
  return (
    <Panel title="Measuring tool" aside={picked.length > 0 && <Button onClick={onClear}>Let go</Button>}>
      <div className="flex flex-col gap-3 p-3" data-testid="measuring" role="status">
        {chosen.length === 0 && (
          <p className="text-soft">Pick a face or an edge of the part, and a second one to measure between.</p>
        )}
        {second !== undefined && (
          <section>
            <h3 className="font-semibold">Between the two</h3>
            {between.length === 0 ? (
              <p className="text-soft">What is free-form has no plane, no line and no axis to measure from.</p>
            ) : (
              <Readings readings={between} unit={unit} />
            )}
          </section>
        )}
        {chosen.map((one, i) => {
          const { what, readings } = 'edge' in one ? describeEdge(one) : describeFace(one, answer.edges);
          return (
            <section key={i}>
              <h3 className="font-semibold">
                {i === 0 ? 'First' : 'Second'}: {what}
              </h3>
              <Readings readings={readings} unit={unit} />
            </section>
          );
        })}
      </div>
    </Panel>
  );
}

function Readings({ readings, unit }: { readonly readings: readonly Reading[]; readonly unit: DrawingUnit }) {
  return (
    <dl className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 text-sm">
      {readings.map((reading) => (
        <div key={reading.label} className="contents">
          <dt className="text-soft">{reading.label}</dt>
          <dd className="text-right tabular-nums">{readingText(reading, unit)}</dd>
        </div>
      ))}
    </dl>
  );
}

/** The file as a whole: what it is, what it weighs, and what would cost points. */
function Whole({ answer, work, onMark }: MeasuredProps & { readonly onMark: (faceIds: readonly number[]) => void }) {
  const { estimate, sizeMm, bodies, closed, warnings, features } = answer;
  const { unit } = work;
  const rows: readonly (readonly [string, string])[] = [
    ['Bodies', `${String(bodies)}${closed ? ', closed' : ', not closed'}`],
    ['Size', `${sizeMm.map((mm) => lengthText(mm, unit)).join(' x ')} ${unit}`],
    ['Volume', propertyText(estimate.volumeMm3, 'volume', unit)],
    ['Area', propertyText(estimate.areaMm2, 'area', unit)],
    [
      `Mass in ${work.material.toLowerCase()}`,
      propertyText(massOf(estimate.volumeMm3, work.densityGPerCm3), 'mass', unit),
    ],
    ['Center of mass', `${estimate.centroidMm.map((mm) => lengthText(mm, unit)).join(' / ')} ${unit}`],
  ];
  return (
    <>
      <Panel title="The whole model">
        <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-0.5 p-3 text-sm" data-testid="whole-model">
          {rows.map(([label, value]) => (
            <div key={label} className="contents">
              <dt className="text-soft">{label}</dt>
              <dd className="text-right tabular-nums">{value}</dd>
            </div>
          ))}
        </dl>
        {warnings.map(({ code, message }) => (
          <p
            key={message}
            className={`border-t px-3 py-1.5 text-sm ${code === 'unit-guessed' ? 'border-rule' : 'border-near bg-near-soft'}`}
          >
            {message}
          </p>
        ))}
      </Panel>
      {features.length > 0 && (
        <Panel title="What was found on it">
          <ul className="grid grid-cols-2">
            {features.map(({ kind, count, faceIds }) => (
              <li key={kind} className="border-r border-b border-rule">
                <button
                  type="button"
                  className="flex w-full cursor-pointer justify-between px-3 py-1 text-left hover:bg-accent-soft"
                  onClick={() => {
                    onMark(faceIds);
                  }}
                >
                  <span>{kind.replace(/-/g, ' ')}</span>
                  <span className="text-soft">{count}</span>
                </button>
              </li>
            ))}
          </ul>
        </Panel>
      )}
    </>
  );
}
