import * as v from 'valibot';
import { describe, expect, it } from 'vitest';

import { readBuildLog } from '#core/buildlog';
import { unwrap } from '#core/problem';
import { OPERATIONS, StepSchema, type Operation, type Step } from '#core/recipe';

import { blockStep, holesStep } from '../exercise/testing.ts';

import {
  canRemove,
  EMPTY_PLAN,
  extentsOf,
  lineOf,
  madeSteps,
  planAsText,
  remarksOn,
  withMade,
  withNumbers,
  type BuildPlan,
  type PlannedStep,
} from './index.ts';

const planned = (operation: Operation, more: Partial<PlannedStep> = {}): PlannedStep => ({
  id: `${operation} ${more.name ?? ''}`,
  operation,
  removes: false,
  name: '',
  on: '',
  extent: 'depth',
  sizes: ['a size'],
  made: null,
  ...more,
});
const planOf = (...steps: PlannedStep[]): BuildPlan => ({ origin: 'lower left corner', symmetry: '', steps });
const kindsOf = (plan: BuildPlan, sizes: string[] = []) =>
  remarksOn(
    plan,
    sizes.map((checkId) => ({ checkId, printed: '12', label: checkId })),
  ).map(({ kind }) => kind);
const block = (id: string, more: object = {}): Step => v.parse(StepSchema, { ...blockStep([40, 20, 10], id), ...more });

const PLATE = planned('extrude', { name: 'Base plate' });
const BOLTS = planned('hole', { name: 'Bolts', extent: 'through', sizes: ['bolts'] });
const ROUNDS = planned('fillet', { name: 'Corners', sizes: ['corners'] });

describe('a plan in good order', () => {
  it('has nothing to be said of it', () => {
    expect(kindsOf(planOf(PLATE, BOLTS, ROUNDS), ['a size', 'bolts', 'corners'])).toEqual([]);
    expect(remarksOn(EMPTY_PLAN, [])).toEqual([]);
  });

  it('is a list of build steps that is read as it was meant', () => {
    const { steps, unread } = unwrap(readBuildLog(planAsText(planOf(PLATE, BOLTS, ROUNDS))));
    expect(steps.map(({ operation, extent }) => [operation, extent])).toEqual([
      ['extrude', null],
      ['hole', 'through'],
      ['fillet', null],
    ]);
    expect(unread).toEqual([]);
  });

  it.each(OPERATIONS)('is read as it was meant with %s, adding or removing', (operation) => {
    for (const removes of canRemove(operation) ? [false, true] : [false])
      for (const name of ['', 'Something'])
        expect(
          unwrap(readBuildLog(lineOf(planned(operation, { name, removes })))).steps.map((one) => one.operation),
        ).toEqual([operation]);
  });
});

describe('what is remarked', () => {
  it('a hole before the material that fills it again', () => {
    const [remark] = remarksOn(planOf(PLATE, BOLTS, planned('extrude', { name: 'Boss', sizes: ['boss'] })), []);
    expect(remark).toMatchObject({ kind: 'may-be-filled', stepId: BOLTS.id });
    expect(remark?.words).toMatch(/^Step 2 \(Bolts\) removes material before step 3 adds some\./);
  });

  it('rounds before holes', () => {
    expect(remarksOn(planOf(PLATE, ROUNDS, BOLTS), [])[0]).toMatchObject({
      kind: 'finished-too-early',
      stepId: ROUNDS.id,
    });
  });

  it('a cut, a round or a pattern before any material', () => {
    const cut = planned('extrude', { removes: true, name: 'Slot' });
    expect(kindsOf(planOf(cut, ROUNDS, planned('mirror'), PLATE))).toEqual([
      'nothing-to-work-on',
      'nothing-to-work-on',
      'nothing-to-copy',
    ]);
    expect(kindsOf(planOf(planned('plane'), PLATE))).toEqual([]);
  });

  it('a step without any size, and sizes of the sheet that no step takes', () => {
    const remarks = remarksOn(planOf(PLATE, planned('hole', { name: 'Pin', sizes: [] })), [
      { checkId: 'a size', printed: '40', label: 'Length' },
      { checkId: 'pin', printed: 'Ø8', label: 'Pin' },
    ]);
    expect(remarks.map(({ words }) => words)).toEqual([
      'Step 2 (Pin) takes no size of the sheet yet.',
      'In no step yet: Ø8 (Pin).',
    ]);
    // A mirror takes none, and what has its numbers has them from somewhere.
    expect(kindsOf(planOf(PLATE, planned('mirror', { sizes: [] })))).toEqual([]);
    expect(kindsOf(planOf({ ...PLATE, sizes: [], made: block('base') }))).toEqual([]);
  });

  it('steps that do the same with the same sizes', () => {
    const twice = planOf(PLATE, BOLTS, { ...BOLTS, id: 'again', sizes: ['bolts'] });
    expect(remarksOn(twice, [])[0]).toMatchObject({
      kind: 'fewer-steps',
      words:
        'Step 2 and step 3 take the same sizes for the same operation: where they make like things, one step with a pattern, a mirror or several outlines does.',
    });
    expect(kindsOf(planOf(PLATE, BOLTS, { ...BOLTS, id: 'other', sizes: ['pin'] }))).toEqual([]);
    // Stacked discs of different sizes are as good as one outline that is turned.
    expect(kindsOf(planOf(PLATE, { ...PLATE, id: 'second', sizes: ['other'] }))).toEqual([]);
  });

  it('a step of which the built part shows nothing', () => {
    const plan = planOf({ ...PLATE, made: block('base') }, { ...BOLTS, made: block('slot', { mode: 'cut' }) });
    const visible = (...ids: string[]) => remarksOn(plan, [], { visible: new Set(ids) }).map(({ stepId }) => stepId);
    expect(visible('base', 'slot')).toEqual([]);
    expect(visible('base')).toEqual([BOLTS.id]);
  });

  it('that nothing says where the origin goes', () => {
    expect(kindsOf({ ...planOf(PLATE), origin: ' ' })).toEqual(['origin-open']);
  });
});

describe('a step that is given its numbers', () => {
  const hole = v.parse(StepSchema, holesStep('bolts', [[5, 5]], 6));

  it('adds or removes, and goes as far, as it was planned', () => {
    expect(withNumbers(planned('extrude', { removes: true, extent: 'through' }), block('slot')).made).toMatchObject({
      mode: 'cut',
      extent: { kind: 'through' },
    });
    expect(withNumbers(planned('extrude', { extent: 'symmetric' }), block('web')).made).toMatchObject({
      mode: 'add',
      extent: { kind: 'symmetric', depth: '10' },
    });
    for (const [extent, kind] of [
      ['through', 'through'],
      ['depth', 'blind'],
    ] as const)
      expect(withNumbers(planned('hole', { extent }), hole).made).toMatchObject({ depth: { kind } });
  });

  it('says nothing of a depth where its operation has none', () => {
    expect(extentsOf('fillet')).toEqual([]);
    // It was an extrusion that went through before its operation was changed.
    expect(lineOf(planned('fillet', { name: 'Corners', extent: 'through' }))).toBe('Fillet Corners');
  });

  it('of an operation that only removes is no other kind of it', () => {
    const [, step] = withMade(planOf(PLATE), [hole], () => 'new').steps;
    expect(step).toMatchObject({ operation: 'hole', removes: false, extent: 'through' });
  });
});

describe('steps with numbers', () => {
  const newId = () => 'new';
  const plan = planOf(PLATE, { ...BOLTS, made: block('slot', { mode: 'cut' }) }, ROUNDS);

  it('are built under the names that they have in the plan', () => {
    expect(madeSteps(plan)).toMatchObject([{ id: 'slot', label: 'Bolts', mode: 'cut' }]);
  });

  it('that are added come into the plan, and what is removed stays planned without numbers', () => {
    const slot = madeSteps(plan);
    const added = withMade(plan, [...slot, block('boss', { label: 'Boss' })], newId);
    expect(added.steps.map(({ id, name, made }) => [id, name, made?.id])).toEqual([
      [PLATE.id, 'Base plate', undefined],
      [BOLTS.id, 'Bolts', 'slot'],
      [ROUNDS.id, 'Corners', undefined],
      ['new', 'Boss', 'boss'],
    ]);
    expect(withMade(plan, [], newId).steps.map(({ id, made }) => [id, made])).toEqual([
      [PLATE.id, null],
      [BOLTS.id, null],
      [ROUNDS.id, null],
    ]);
  });

  it('that are put in another order are in that order in the plan, with what followed each', () => {
    const [slot] = madeSteps(plan);
    const boss = block('boss', { label: 'Boss' });
    const both = withMade(plan, [...(slot === undefined ? [] : [slot]), boss], newId);
    const turned = withMade(both, [boss, ...(slot === undefined ? [] : [slot])], newId);
    expect(turned.steps.map(({ id }) => id)).toEqual([PLATE.id, 'new', BOLTS.id, ROUNDS.id]);
  });
});
