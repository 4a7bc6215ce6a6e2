import { exerciseOfStage, isDimension, isOnSheet, type Exercise } from '#core/exercise';
import { unwrap } from '#core/problem';
import { evaluateExpression, evaluateParameters, formatFixed, type Scope } from '#core/quantity';
import { OPERATION_NAMES, withValues, type ParameterValues, type Recipe, type Step, type StepOf } from '#core/recipe';

import { CATALOGUE, type MistakeKind } from './catalogue.ts';
import type { Edit, Path } from './edit.ts';
import type { Mistake } from './mistake.ts';
import { sitesOf, type Role, type Site } from './sites.ts';

/** Sizes that dialogs open with, in the drawing unit. */
const DEFAULTS: Readonly<Record<Exercise['recipe']['unit'], Readonly<Partial<Record<Role, readonly number[]>>>>> = {
  mm: { radius: [1, 2, 5], bevel: [1, 2], depth: [10], 'hole-depth': [10], width: [5] },
  in: { radius: [0.0625, 0.125, 0.25], bevel: [0.0625, 0.125], depth: [1], 'hole-depth': [0.5], width: [0.25] },
};
const MOST_NEIGHBORS = 3;
const MOST_EDGES = 2;
const MOST_MISTAKES = 120;
const LEAST_OF_KIND = 4;
const MOST_VARIANTS = 30;

/**
 * All mistakes of the catalogue that a student can make in the part of an exercise, in one variant and stage of it. What
 * cannot be built, or changes nothing, is found when they are built.
 */
export function mistakesOf(document: Exercise, values: ParameterValues = {}, stage = 1): readonly Mistake[] {
  const exercise = exerciseOfStage(document, stage);
  if (exercise.recipe.steps.length === 0) return [];
  return new Generator(exercise, values, document).all();
}

const KEY: Readonly<Record<Role, string>> = {
  diameter: 'diameter',
  radius: 'radius',
  bevel: 'bevel',
  width: 'size',
  depth: 'depth',
  'hole-depth': 'depth',
  offset: 'distance',
  spacing: 'spacing',
  position: 'place',
  angle: 'angle',
  count: 'number',
};
const LENGTHS = new Set<Role>(['diameter', 'radius', 'bevel', 'width', 'depth', 'hole-depth', 'offset', 'spacing']);

class Generator {
  private readonly exercise: Exercise;
  private readonly document: Exercise;
  private readonly values: ParameterValues;
  private readonly recipe: Recipe;
  private readonly scope: Scope;
  private readonly sites: readonly Site[];
  /** Lengths that the sheet gives, in the drawing unit. */
  private readonly onSheet: readonly number[];
  private readonly found = new Map<string, Mistake>();

  constructor(exercise: Exercise, values: ParameterValues, document: Exercise) {
    this.exercise = exercise;
    this.document = document;
    this.values = values;
    this.recipe = unwrap(withValues(exercise.recipe, values));
    this.scope = unwrap(evaluateParameters(this.recipe.parameters, this.recipe.unit));
    this.sites = sitesOf(this.recipe, this.scope);
    const nominals = exercise.checks
      .filter((check) => isDimension(check) && isOnSheet(check))
      .flatMap((check) => ('nominal' in check ? (this.valueOf(check.nominal) ?? []) : []));
    const letters = this.recipe.parameters.map(({ name }) => this.scope[name] ?? 0);
    this.onSheet = [...new Set([...nominals, ...letters].filter((value) => value > 0).map((value) => round(value)))];
  }

  all(): readonly Mistake[] {
    for (const site of this.sites) this.atSite(site);
    this.atLetters();
    for (const [place, step] of this.steps.entries()) {
      this.forgotten(step);
      this.atStep(step);
      this.order(step, place);
    }
    this.variants();
    return likeliest([...this.found.values()]);
  }

  private get steps(): readonly Step[] {
    return this.recipe.steps.filter(({ off }) => off !== true);
  }

  private valueOf(expression: string): number | null {
    const value = evaluateExpression(expression, this.scope, this.recipe.unit);
    return value.ok && Number.isFinite(value.value) ? value.value : null;
  }

  private put(
    kind: MistakeKind,
    key: string,
    edits: readonly [Edit, ...Edit[]],
    summary: string,
    message: string,
    factor = 1,
    expression: string | null = null,
  ): void {
    const id = `${kind}:${key}`;
    if (this.found.has(id)) return;
    const stepIds = [...new Set(edits.flatMap((edit) => ('stepId' in edit ? edit.stepId : [])))];
    this.found.set(id, {
      id,
      kind,
      prior: CATALOGUE[kind].prior * factor,
      edits,
      expression,
      stepIds,
      message,
      summary: `${CATALOGUE[kind].name}: ${summary}`,
    });
  }

  private name(step: Pick<Step, 'id' | 'label' | 'op'>): string {
    return step.label ?? `${OPERATION_NAMES[step.op]} "${step.id}"`;
  }

  private stepOf(id: string): Step | undefined {
    return this.recipe.steps.find((step) => step.id === id);
  }

  private words(value: number, role: Role): string {
    if (role === 'count') return String(value);
    if (role === 'angle') return `${String(Number(value.toFixed(2)))}°`;
    return `${formatFixed(value, this.exercise.decimals)} ${this.recipe.unit}`;
  }

  // ---- one number

  private atSite(site: Site): void {
    const { role, value } = site;
    const size = Math.abs(value);
    const change = (
      kind: MistakeKind,
      next: string,
      why: string,
      factor = 1,
      said = this.valueOf(next) ?? Number.NaN,
    ): void => {
      const step = this.stepOf(site.stepId);
      if (step === undefined || !Number.isFinite(said) || Math.abs(said - value) < 1e-9) return;
      if (role !== 'position' && role !== 'angle' && role !== 'offset' && said <= 0) return;
      const name = this.name(step);
      const key = role === 'position' ? placeName(site.path) : KEY[role];
      const what = `${key} ${this.words(said, role)} for ${this.words(value, role)}`;
      this.put(
        kind,
        `${site.stepId}/${site.path.join('/')}=${round(said).toString()}`,
        [{ kind: 'set', stepId: site.stepId, path: site.path, value: next }],
        `${name}, ${what}`,
        `${name}: the ${key} is ${this.words(said, role)} where the sheet gives ${this.words(value, role)}. ${why}`,
        factor,
        site.expression,
      );
    };
    const own = `(${site.expression})`;
    if (role === 'diameter') {
      change('radius-for-diameter', `${own}/2`, 'Was the radius typed where the diameter is asked?');
      change('diameter-for-radius', `${own}*2`, 'Was the diameter taken for a radius?', 0.5);
    }
    if (role === 'radius') {
      change('diameter-for-radius', `${own}*2`, 'Was the diameter typed where the radius is asked?');
      change('radius-for-diameter', `${own}/2`, 'Was the radius taken for a diameter?', 0.4);
    }
    if (['width', 'depth', 'hole-depth', 'offset', 'spacing'].includes(role)) {
      change('half-for-whole', `${own}/2`, 'Was half of the size used for all of it?', role === 'width' ? 1 : 0.5);
      change('whole-for-half', `${own}*2`, 'Was all of the size used where half is asked?', role === 'width' ? 1 : 0.5);
    }
    if (LENGTHS.has(role)) {
      const swapped = swapDigits(this.written(value));
      if (swapped !== null) change('digits-swapped', swapped, 'Were two digits swapped?');
      change('decimal-point', `${own}/10`, 'Did the decimal point slip?', size > 1 ? 1 : 0.4);
      change('decimal-point', `${own}*10`, 'Did the decimal point slip?', size < 5 ? 1 : 0.3);
      if (this.recipe.unit === 'mm')
        change('unit-of-one-value', `${own}*25.4`, 'Was this one value taken for inches?', size < 10 ? 0.6 : 0.2);
      else change('unit-of-one-value', `${own}/25.4`, 'Was this one value taken for millimeters?', 0.5);
      const near = this.onSheet
        .filter((other) => Math.abs(other - size) > 1e-9)
        .sort((a, b) => Math.abs(Math.log(a / size)) - Math.abs(Math.log(b / size)))
        .slice(0, MOST_NEIGHBORS);
      for (const [i, other] of near.entries())
        change('neighboring-dimension', this.written(other), 'That is another number on the sheet.', 1 / (i + 1));
      for (const other of DEFAULTS[this.recipe.unit][role] ?? [])
        change('default-size', this.written(other), 'Was the size left as the dialog offered it?');
    }
    if (role === 'depth' || role === 'hole-depth' || role === 'offset')
      for (const other of this.heightsBelow(site.stepId)) {
        const words = 'Was it measured from another face than the sheet shows?';
        change('wrong-edge', `${own} - ${this.written(other)}`, words);
        change('wrong-edge', `${own} + ${this.written(other)}`, words);
      }
    if (role === 'position') {
      const words = 'Was the place measured from another edge than the sheet shows?';
      for (const [i, other] of this.edgesNear(site).entries()) {
        change('wrong-edge', `${own} - ${this.written(other)}`, words, 1 / (1 + i));
        change('wrong-edge', `${own} + ${this.written(other)}`, words, 1 / (1 + i));
      }
      change('feature-mirrored', `-${own}`, 'Is it on the other side of the middle?');
      const swapped = swapDigits(this.written(size));
      if (swapped !== null && size >= 10)
        change('digits-swapped', `${value < 0 ? '-' : ''}${swapped}`, 'Were two digits swapped?', 0.5);
    }
    if (role === 'angle') {
      const words = 'Was the angle measured from the other side?';
      change('angle-from-other-side', `180 - ${own}`, words);
      change('angle-from-other-side', `90 - ${own}`, words);
      change('angle-from-other-side', `-${own}`, words);
    }
    if (role === 'count') {
      change('wrong-count', `${own} - 1`, 'Count them on the sheet once more.');
      change('wrong-count', `${own} + 1`, 'Count them on the sheet once more.', 0.6);
    }
  }

  private written(value: number): string {
    return String(Number(value.toFixed(6)));
  }

  /** Heights of the steps whose faces a step stands on. */
  private heightsBelow(stepId: string): readonly number[] {
    const step = this.stepOf(stepId);
    if (step === undefined || !('plane' in step) || !('surface' in step.plane)) return [];
    const [below = ''] = step.plane.surface.split('.');
    return this.sites
      .filter((site) => site.stepId === below && site.role === 'depth')
      .map(({ value }) => Math.abs(value));
  }

  /** How far another edge than the right one may lie from the place of a feature: sizes of the feature, then of the sheet. */
  private edgesNear(site: Site): readonly number[] {
    const own = this.sites
      .filter((other) => other.stepId === site.stepId && (other.role === 'diameter' || other.role === 'width'))
      .map(({ value }) => Math.abs(value) / 2);
    const small = [...this.onSheet].sort((a, b) => a - b);
    return [...new Set([...own, ...small].map(round))].filter((size) => size > 0).slice(0, MOST_EDGES);
  }

  // ---- letters

  private atLetters(): void {
    const letters = this.recipe.parameters.filter(({ value }) => Number.isFinite(Number(value)));
    for (const { name, label } of letters) {
      const value = this.scope[name] ?? 0;
      const said = label === undefined ? `Letter ${name}` : `${label} (${name})`;
      const change = (kind: MistakeKind, next: number, why: string, factor = 1): void => {
        if (!(next > 0) || Math.abs(next - value) < 1e-9) return;
        const what = `${this.words(next, 'width')} for ${this.words(value, 'width')}`;
        this.put(
          kind,
          `${name}=${round(next).toString()}`,
          [{ kind: 'letter', name, value: this.written(next) }],
          `${said}, ${what}`,
          `${said} is ${this.words(next, 'width')} where the sheet gives ${this.words(value, 'width')}. ${why}`,
          factor,
          name,
        );
      };
      change('half-for-whole', value / 2, 'Was half of the size used for all of it?', 0.6);
      change('whole-for-half', value * 2, 'Was all of the size used where half is asked?', 0.6);
      change('decimal-point', value / 10, 'Did the decimal point slip?', 0.5);
      const swapped = swapDigits(this.written(value));
      if (swapped !== null) change('digits-swapped', Number(swapped), 'Were two digits swapped?');
      const near = this.onSheet
        .filter((other) => Math.abs(other - value) > 1e-9)
        .sort((a, b) => Math.abs(Math.log(a / value)) - Math.abs(Math.log(b / value)))
        .slice(0, MOST_NEIGHBORS);
      for (const [i, other] of near.entries())
        change('neighboring-dimension', other, 'That is another number on the sheet.', 1 / (i + 1));
    }
    letters.forEach((a, i) => {
      for (const b of letters.slice(i + 1))
        if (a.value !== b.value)
          this.put(
            'letters-swapped',
            `${a.name}-${b.name}`,
            [
              { kind: 'letter', name: a.name, value: b.value },
              { kind: 'letter', name: b.name, value: a.value },
            ],
            `${a.name} and ${b.name}`,
            `The values of ${a.name} and ${b.name} were mixed up: ${a.name} is ${a.value} ${this.recipe.unit} on the sheet, ${b.name} is ${b.value} ${this.recipe.unit}.`,
          );
    });
  }

  // ---- steps that are left out

  private forgotten(step: Step): void {
    const { id } = step;
    const name = this.name(step);
    const place = this.steps.indexOf(step);
    if (place > 0 && step.op !== 'plane' && step.op !== 'axis' && step.op !== 'thread')
      this.put(
        'step-forgotten',
        id,
        [{ kind: 'drop', stepId: id }],
        name,
        `${name} is missing: the sheet shows it, the model does not have it.`,
      );
    this.listed(step, 'outlines', 'outlines' in step ? step.outlines.length : 0, name);
    this.listed(step, 'edges', 'edges' in step ? step.edges.length : 0, name);
    if (step.op !== 'hole') {
      if ('skip' in step || step.op === 'circular-pattern' || step.op === 'linear-pattern')
        this.skips(step, ['skip'], name);
      for (const { path, outline } of outlinesIn(step)) {
        if (outline.shape === 'polar' || outline.shape === 'row') this.skips(step, [...path, 'skip'], name, outline);
        if (outline.shape === 'union' || outline.shape === 'difference')
          outline.parts.forEach((_, i) => {
            if (i > 0 && outline.parts.length > 2) this.drop(step, [...path, 'parts', i], i + 1, name);
          });
      }
      return;
    }
    if (step.at.kind === 'bolt-circle') this.skips(step, ['at', 'skip'], name, step.at);
    else {
      const list = step.at.kind === 'points' ? 'points' : 'with';
      const { length } = step.at.kind === 'points' ? step.at.points : step.at.with;
      if (length > 1) for (let i = 0; i < length; i++) this.drop(step, ['at', list, i], i + 1, name);
    }
  }

  private listed(step: Step, list: 'outlines' | 'edges', length: number, name: string): void {
    if (length > 1) for (let i = 0; i < length; i++) this.drop(step, [list, i], i + 1, name);
  }

  private drop(step: Step, path: Path, number: number, name: string): void {
    this.put(
      'one-forgotten',
      `${step.id}/${path.join('/')}`,
      [{ kind: 'set', stepId: step.id, path, value: null }],
      `${name}, number ${String(number)}`,
      `${name}: number ${String(number)} is missing. Count them on the sheet.`,
    );
  }

  /** Copies at places that can be skipped: one that is left out, and one that is filled though the sheet skips it. */
  private skips(step: Step, path: Path, name: string, of: object = step): void {
    const { skip = [], count } = of as { readonly skip?: readonly number[] | undefined; readonly count?: string };
    const total = count === undefined ? 0 : (this.valueOf(count) ?? 0);
    // The first copy of a pattern is the step itself, which stays.
    const first = step.op === 'circular-pattern' || step.op === 'linear-pattern' ? 2 : 1;
    for (let number = first; number <= Math.min(total, 24); number++) {
      if (skip.includes(number)) continue;
      this.put(
        'one-forgotten',
        `${step.id}/${path.join('/')}/${String(number)}`,
        [{ kind: 'set', stepId: step.id, path, value: [...skip, number] }],
        `${name}, number ${String(number)}`,
        `${name}: number ${String(number)} of ${String(total - skip.length)} is missing. Count them on the sheet.`,
      );
    }
    for (const number of skip)
      this.put(
        'one-too-many',
        `${step.id}/${path.join('/')}/${String(number)}`,
        [{ kind: 'set', stepId: step.id, path, value: skip.filter((other) => other !== number) }],
        `${name}, number ${String(number)}`,
        `${name}: there is one at a place that the sheet leaves free (number ${String(number)} of ${String(total)}).`,
        2,
      );
  }

  // ---- choices of a step

  private atStep(step: Step): void {
    const name = this.name(step);
    const set = (path: Path, value: unknown): Edit => ({ kind: 'set', stepId: step.id, path, value });
    const put = (kind: MistakeKind, key: string, edits: readonly [Edit, ...Edit[]], why: string, factor = 1): void => {
      this.put(kind, `${step.id}/${key}`, edits, name, `${name}: ${why}`, factor);
    };
    switch (step.op) {
      case 'hole':
        this.atHole(step, set, put);
        break;
      case 'extrude':
        this.atExtrude(step, set, put);
        break;
      case 'rib':
        put(
          'wrong-side',
          'side',
          [set(['side'], step.side === 'left' ? 'right' : 'left')],
          'the material lies on the other side of its line.',
        );
        break;
      case 'chamfer':
        if (step.other !== undefined)
          put(
            'bevel-reversed',
            'sizes',
            [set(['size'], step.other), set(['other'], step.size)],
            `the two sizes are the wrong way round. Look on the sheet which of them lies on which face.`,
            2,
          );
        if (step.angle !== undefined)
          put(
            'bevel-reversed',
            'angle',
            [set(['angle'], `90 - (${step.angle})`)],
            'the angle was taken from the other face.',
            2,
          );
        this.onRims(step, set, put);
        break;
      case 'fillet':
        this.onRims(step, set, put);
        break;
      default:
    }
  }

  private atHole(step: StepOf<'hole'>, set: (path: Path, value: unknown) => Edit, put: Put): void {
    const { depth, counterbore, countersink } = step;
    if (step.at.kind === 'points' && step.at.points.length > 1)
      for (const [hole] of step.at.points.entries())
        put(
          'radius-for-diameter',
          `alone-${String(hole)}`,
          [{ kind: 'single', stepId: step.id, hole, path: ['diameter'], value: `(${step.diameter})/2` }],
          `number ${String(hole + 1)} has half of the diameter that the sheet gives, the others are right. Was the radius typed there?`,
          0.3,
        );
    const fallback = this.recipe.unit === 'mm' ? '10' : '0.5';
    if (depth.kind !== 'blind')
      put(
        'blind-for-through',
        'depth',
        [set(['depth'], { kind: 'blind', depth: fallback })],
        `the holes end inside the part (${fallback} ${this.recipe.unit} deep); the sheet shows them going through.`,
      );
    if (depth.kind === 'blind') {
      put(
        'through-for-blind',
        'depth',
        [set(['depth'], { kind: 'through' })],
        'the holes go through; the sheet gives them a depth.',
      );
      const other = depth.bottom === 'drill-point' ? 'flat' : 'drill-point';
      put(
        'drill-point',
        'bottom',
        [set(['depth', 'bottom'], other)],
        `the bottom is ${other === 'flat' ? 'flat' : 'a drill point'}; the sheet shows the other.`,
      );
    } else
      put(
        'wall-or-all',
        'walls',
        [set(['depth'], { kind: depth.kind === 'wall' ? 'through' : 'wall' })],
        depth.kind === 'wall'
          ? 'the hole goes through every wall; the sheet shows it in one only.'
          : 'the hole goes through the first wall only; the sheet shows it going through all.',
      );
    if (counterbore !== undefined) {
      put('recess-forgotten', 'counterbore', [set(['counterbore'], null)], 'the counterbore is missing.');
      put(
        'recess-swapped',
        'counterbore',
        [set(['counterbore'], { diameter: counterbore.depth, depth: counterbore.diameter })],
        'diameter and depth of the counterbore are swapped.',
      );
      put(
        'recess-kind',
        'countersink',
        [set(['counterbore'], null), set(['countersink'], { diameter: counterbore.diameter })],
        'there is a countersink where the sheet shows a counterbore.',
      );
    }
    if (countersink !== undefined) {
      put('recess-forgotten', 'countersink', [set(['countersink'], null)], 'the countersink is missing.');
      put(
        'recess-kind',
        'counterbore',
        [
          set(['countersink'], null),
          set(['counterbore'], { diameter: countersink.diameter, depth: `(${countersink.diameter})/4` }),
        ],
        'there is a counterbore where the sheet shows a countersink.',
      );
    }
  }

  private atExtrude(step: StepOf<'extrude'>, set: (path: Path, value: unknown) => Edit, put: Put): void {
    const { extent, mode } = step;
    put(
      'wrong-side',
      'reversed',
      [set(['reversed'], step.reversed === true ? null : true)],
      `it was extruded to the other side of its plane.`,
    );
    if (extent.kind === 'symmetric') {
      put(
        'one-sided',
        'extent',
        [set(['extent'], { kind: 'depth', depth: extent.depth })],
        'it lies on one side of its plane; the sheet shows it symmetric.',
      );
      put(
        'one-sided',
        'extent-half',
        [set(['extent'], { kind: 'depth', depth: `(${extent.depth})/2` })],
        'only half of it is there; the sheet shows it symmetric about its plane.',
        0.5,
      );
    }
    if (extent.kind === 'depth')
      put(
        'one-sided',
        'extent',
        [set(['extent'], { kind: 'symmetric', depth: extent.depth })],
        'it is symmetric about its plane; the sheet shows it on one side.',
        0.7,
      );
    if (extent.kind === 'two-sided')
      put(
        'wrong-side',
        'swapped',
        [set(['extent'], { ...extent, depth: extent.back, back: extent.depth })],
        'its two depths are swapped.',
      );
    if (mode === 'cut' && extent.kind === 'through') {
      const fallback = this.recipe.unit === 'mm' ? '10' : '0.5';
      put(
        'blind-for-through',
        'extent',
        [set(['extent'], { kind: 'depth', depth: fallback })],
        `it ends after ${fallback} ${this.recipe.unit}; the sheet shows it going through.`,
      );
    }
    if (mode === 'cut' && extent.kind === 'depth')
      put(
        'through-for-blind',
        'extent',
        [set(['extent'], { kind: 'through' })],
        'it goes through; the sheet gives it a depth.',
      );
  }

  /** Rounds and bevels of every edge that left some out. */
  private onRims(step: StepOf<'fillet' | 'chamfer'>, set: (path: Path, value: unknown) => Edit, put: Put): void {
    step.edges.forEach((selector, i) => {
      if ('every' in selector && selector.except !== undefined)
        put(
          'rounds-on-rims',
          `except-${String(i)}`,
          [set(['edges', i, 'except'], null)],
          'it is also on edges that the sheet leaves sharp.',
          2,
        );
    });
  }

  // ---- order

  /** A cut before the material that fills it again; rounds after holes whose rims they then take in. */
  private order(step: Step, place: number): void {
    const isCut = step.op === 'hole' || ('mode' in step && step.mode === 'cut');
    const before = this.steps[place - 1];
    if (isCut) {
      const added = this.steps.slice(1, place).findLast((other) => 'mode' in other && other.mode === 'add');
      if (added !== undefined)
        this.put(
          'wrong-order',
          `${step.id}<${added.id}`,
          [{ kind: 'move', stepId: step.id, before: added.id }],
          `${this.name(step)} before ${this.name(added)}`,
          `${this.name(step)} was made before ${this.name(added)}, which fills it again. Cut after all material is there.`,
        );
    } else if ((step.op === 'fillet' || step.op === 'chamfer') && before !== undefined) {
      const later = this.steps.slice(place + 1).findLast(({ op }) => op === 'hole' || op === 'extrude');
      const after = later && this.steps[this.steps.indexOf(later) + 1];
      if (later !== undefined && after !== undefined)
        this.put(
          'wrong-order',
          `${step.id}>${later.id}`,
          [{ kind: 'move', stepId: step.id, before: after.id }],
          `${this.name(step)} after ${this.name(later)}`,
          `${this.name(step)} was made after ${this.name(later)}, and takes in edges that the sheet leaves sharp.`,
        );
    }
  }

  // ---- variants

  private variants(): void {
    const drawn = Object.fromEntries(this.document.recipe.parameters.map(({ name, value }) => [name, value]));
    const all = [{ name: 'as drawn', values: {} }, ...this.document.variants];
    for (const { name, values } of all) {
      const theirs = { ...drawn, ...values };
      const edits = this.recipe.parameters.flatMap((letter): Edit[] => {
        const value = theirs[letter.name];
        return value === undefined || value === letter.value || this.values[letter.name] === value
          ? []
          : [{ kind: 'letter', name: letter.name, value }];
      });
      const [first, ...more] = edits;
      if (first === undefined) continue;
      this.put(
        'wrong-variant',
        name,
        [first, ...more],
        name,
        `The part has the values of another variant (${name}). Use the letter values of your own sheet.`,
      );
    }
  }
}

type Put = (kind: MistakeKind, key: string, edits: readonly [Edit, ...Edit[]], why: string, factor?: number) => void;

/** "place across", "place up", with its number where there are several. */
function placeName(path: Path): string {
  const numbers = path.filter((part) => typeof part === 'number');
  const direction = numbers.at(-1) === 0 ? 'across' : 'up';
  const number = path.includes('points') || path.includes('segments') ? numbers.at(-2) : undefined;
  const which =
    number === undefined
      ? ''
      : path.includes('points')
        ? ` of number ${String(number + 1)}`
        : ` of corner ${String(number + 2)}`;
  return `place ${direction}${which}`;
}

type AnyOutline = Extract<Step, { op: 'extrude' }>['outlines'][number];

/** Every outline of a step, also within others, with where it stands. */
function outlinesIn(
  step: Step,
): readonly { readonly path: readonly (string | number)[]; readonly outline: AnyOutline }[] {
  const found: { path: readonly (string | number)[]; outline: AnyOutline }[] = [];
  const walk = (outline: AnyOutline, path: readonly (string | number)[]): void => {
    found.push({ path, outline });
    if ('of' in outline) walk(outline.of, [...path, 'of']);
    if ('parts' in outline) outline.parts.forEach((part, i) => walk(part, [...path, 'parts', i]));
  };
  if ('outlines' in step) step.outlines.forEach((outline, i) => walk(outline, ['outlines', i]));
  if (step.op === 'loft') {
    walk(step.outline, ['outline']);
    walk(step.to, ['to']);
  }
  return found;
}

/** The likeliest mistakes, some of each kind in any case: more are not worth the time that building them takes. */
function likeliest(all: readonly Mistake[]): readonly Mistake[] {
  const sorted = [...all].sort((a, b) => b.prior - a.prior);
  const ofKind = new Map<MistakeKind, number>();
  const kept = sorted.filter(({ kind }) => {
    const count = ofKind.get(kind) ?? 0;
    ofKind.set(kind, count + 1);
    return count < (kind === 'wrong-variant' ? MOST_VARIANTS : LEAST_OF_KIND);
  });
  const others = sorted.filter((mistake) => !kept.includes(mistake));
  return [...kept, ...others.slice(0, Math.max(0, MOST_MISTAKES - kept.length))];
}

const round = (value: number): number => Number(value.toFixed(6));

/** A number with its first two unlike neighboring digits swapped; null where there are none, or a zero would lead. */
function swapDigits(text: string): string | null {
  const digits = /^-?(\d+)(\.\d+)?$/.exec(text);
  if (digits === null) return null;
  for (let i = 0; i + 1 < text.length; i++) {
    const [a = '', b = ''] = [text[i], text[i + 1]];
    if (/\d/.test(a) && /\d/.test(b) && a !== b && !(i === 0 && b === '0'))
      return text.slice(0, i) + b + a + text.slice(i + 2);
  }
  return null;
}
