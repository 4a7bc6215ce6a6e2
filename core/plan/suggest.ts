import type { Check, Exercise } from '#core/exercise';
import { featuresOf, findHoles, type Hole } from '#core/feature';
import { evaluateExpression, formatFixed, LENGTH_UNITS, namesIn, type Scope } from '#core/quantity';
import { stringsIn, type NamedSurfaces } from '#core/recipe';
import type { Cylinder, Plane, Solid } from '#core/solid';
import { boxSize, cross, distanceToLine, dot, length, subtract, type Vec3 } from '#core/vector';

import { anchorsOf, cylindersOf, planesOf, type Anchor } from './anchors.ts';

/** The reference that a plan is suggested for. */
export interface PlanBasis {
  readonly exercise: Exercise;
  readonly solid: Solid;
  readonly surfaces: NamedSurfaces;
  readonly scope: Scope;
}

type Draft = Check extends infer C
  ? C extends Check
    ? Omit<C, 'id' | 'weight'> & { readonly valueMm?: number }
    : never
  : never;

const AXES = [
  ['x', [1, 0, 0], 'Length'],
  ['y', [0, 1, 0], 'Width'],
  ['z', [0, 0, 1], 'Height'],
] as const satisfies readonly (readonly ['x' | 'y' | 'z', Vec3, string])[];
const SAME_MM = 1e-4;
const SAME_SINE = 1e-6;

/** Share of the whole score, in percent, of each group of checks. */
const SHARES = { dimensions: 60, features: 10, properties: 20, hygiene: 10 } as const;

/**
 * A check plan from the sizes of the recipe and the features of the part: every size once, tolerances of half of the
 * last decimal, weights that add up to 100. `others` are the same part with one letter changed in each: they show how
 * the letters give a size, so that nominals follow them.
 */
export function suggestPlan(basis: PlanBasis, others: readonly PlanBasis[] = []): readonly Check[] {
  const planner = new Planner(basis);
  const elsewhere = others.map(
    (other) => new Map(new Planner(other).dimensions().map((draft) => [keyOf(draft), draft])),
  );
  const dimensions = planner.dimensions().map((draft): Draft => {
    const { valueMm, ...check } = draft;
    if (valueMm === undefined) return check;
    const values = elsewhere.map((drafts) => drafts.get(keyOf(draft))?.valueMm);
    return { ...check, nominal: writtenAs(valueMm, values, basis, others) } as Draft;
  });
  const groups = {
    dimensions,
    features: planner.features(),
    properties: planner.properties(),
    hygiene: planner.hygiene(),
  };
  const used = new Set<string>();
  const idOf = (label: string): string => {
    const base =
      label
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^[^a-z]+|-+$/g, '')
        .slice(0, 34) || 'check';
    let id = base;
    for (let n = 2; used.has(id); n++) id = `${base}-${String(n)}`;
    used.add(id);
    return id;
  };
  const whole = Object.entries(groups).reduce(
    (sum, [group, drafts]) => sum + (drafts.length > 0 ? SHARES[group as keyof typeof SHARES] : 0),
    0,
  );
  return Object.entries(groups).flatMap(([group, drafts]) => {
    // A group without checks gives its share to the others.
    const weights = shared((SHARES[group as keyof typeof SHARES] * 100) / whole, drafts.length);
    return drafts.map((draft, i) => ({ ...draft, id: idOf(draft.label), weight: weights[i] ?? 0 }));
  });
}

/** What a check is about, whatever its size. */
function keyOf(draft: Draft): string {
  const { valueMm: _, label: __, ...rest } = draft;
  return JSON.stringify(rest);
}

/** Shares of a letter that a drawing writes. */
const SLOPES = [1, -1, 0.5, -0.5, 2, -2, 0.25, -0.25, 1.5, -1.5] as const;
const SLOPE_WORDS: Readonly<Record<string, string>> = {
  '1': '',
  '0.5': '/2',
  '0.25': '/4',
};

/**
 * A length as an expression of the letters. An expression of the recipe is taken when it gives the size for all values;
 * else a sum of shares of letters, found from how the size changes with each; else the number itself.
 */
function writtenAs(
  valueMm: number,
  values: readonly (number | undefined)[],
  { exercise: { recipe, decimals }, solid, scope }: PlanBasis,
  others: readonly PlanBasis[],
): string {
  const factor = LENGTH_UNITS[recipe.unit];
  // A size between surfaces that were fitted to triangles is as round as their uncertainty allows.
  const slackMm = Math.max(1e-5, 2 * Math.max(0, ...solid.faces.map(({ uncertaintyMm }) => uncertaintyMm)));
  const short = [decimals, 4]
    .map((digits) => Number((valueMm / factor).toFixed(digits)))
    .find((value, i) => Math.abs(value * factor - valueMm) < (i === 0 ? slackMm : 1e-5));
  const plain = String(short ?? Number((valueMm / factor).toFixed(6)));
  const texts = [...recipe.parameters.map(({ name }) => name), ...stringsIn(recipe.steps)];
  const gives = (text: string): boolean =>
    [{ scope, value: valueMm }, ...others.map((other, i) => ({ scope: other.scope, value: values[i] }))].every(
      ({ scope: letters, value }) => {
        const result = evaluateExpression(text, letters, recipe.unit);
        return result.ok && value !== undefined && Math.abs(result.value * factor - value) < SAME_MM;
      },
    );
  const known = [...new Set(texts)].find((text) => namesIn(text).length > 0 && gives(text));
  if (known !== undefined) return known;
  const terms: string[] = [];
  let rest = valueMm / factor;
  for (const [i, other] of others.entries()) {
    const letter = recipe.parameters.find(
      ({ name, value }) => namesIn(value).length === 0 && scope[name] !== other.scope[name],
    );
    const [before, after, value] = [scope[letter?.name ?? ''], other.scope[letter?.name ?? ''], values[i]];
    if (letter === undefined || before === undefined || after === undefined || value === undefined) return plain;
    const change = (value - valueMm) / factor / (after - before);
    if (Math.abs(change) < 1e-6) continue;
    const slope = SLOPES.find((share) => Math.abs(share - change) < 1e-5);
    if (slope === undefined) return plain;
    const size = String(Math.abs(slope));
    const word = SLOPE_WORDS[size];
    terms.push(`${slope < 0 ? '- ' : '+ '}${word === undefined ? `${size}*${letter.name}` : `${letter.name}${word}`}`);
    rest -= slope * before;
  }
  if (terms.length === 0) return plain;
  const constant = Number(rest.toFixed(6));
  if (constant !== 0) terms.push(`${constant < 0 ? '- ' : '+ '}${String(Math.abs(constant))}`);
  const text = terms
    .sort((a, b) => Number(b.startsWith('+')) - Number(a.startsWith('+')))
    .join(' ')
    .replace(/^\+ /, '')
    .replace(/^- /, '-');
  return gives(text) ? text : plain;
}

/** A number in parts of whole hundredths that differ by one of them at most and add up to it. */
function shared(total: number, count: number): number[] {
  const hundredths = total * 100;
  return Array.from({ length: count }, (_, i) => {
    const [upTo, before] = [Math.round((hundredths * (i + 1)) / count), Math.round((hundredths * i) / count)];
    return (upTo - before) / 100;
  });
}

class Planner {
  private readonly basis: PlanBasis;
  private readonly anchors: readonly Anchor[];
  private readonly holes: readonly Hole[];
  private readonly tolerance: string;

  constructor(basis: PlanBasis) {
    this.basis = basis;
    this.anchors = anchorsOf(basis.solid, basis.surfaces);
    this.holes = findHoles(basis.solid);
    const { decimals } = basis.exercise;
    this.tolerance = formatFixed(0.5 * 10 ** -decimals, decimals + 1);
  }

  /** The value stays beside the check until it is known how the letters give it. */
  private sized(label: string, valueMm: number) {
    return { label: label.slice(0, 80), nominal: '', tolerance: this.tolerance, valueMm };
  }

  dimensions(): Draft[] {
    return [
      ...this.overall(),
      ...this.planeDistances(),
      ...this.diameters(),
      ...this.rounds(),
      ...this.holeSizes(),
      ...this.holePlaces(),
      ...this.chamfers(),
    ];
  }

  private overall(): Draft[] {
    const size = boxSize(this.basis.solid.bounds);
    return AXES.map(([axis, , label], i) => ({ kind: 'overall-size', axis, ...this.sized(label, size[i] ?? 0) }));
  }

  /** Flat surfaces square to an axis of the part, in order along it, one for each place. */
  private levels(direction: Vec3): readonly { readonly at: number; readonly anchor: Anchor<Plane> }[] {
    const found: { at: number; anchor: Anchor<Plane> }[] = [];
    for (const anchor of planesOf(this.anchors)) {
      if (length(cross(anchor.surface.normal, direction)) > SAME_SINE) continue;
      const at = dot(anchor.surface.origin, direction);
      if (!found.some((level) => Math.abs(level.at - at) < SAME_MM)) found.push({ at, anchor });
    }
    return found.sort((a, b) => a.at - b.at);
  }

  /** Every level hangs on exactly one distance: from its twin, if it has one about the middle, or from the first level. */
  private planeDistances(): Draft[] {
    const { min, max } = this.basis.solid.bounds;
    return AXES.flatMap(([, direction], axis) => {
      const [low, high] = [min[axis] ?? 0, max[axis] ?? 0];
      const levels = this.levels(direction);
      const outer = levels.filter(({ at }) => Math.abs(at - low) < SAME_MM || Math.abs(at - high) < SAME_MM);
      const inner = levels.filter((level) => !outer.includes(level));
      const datum = outer[0] ?? levels[0];
      if (datum === undefined) return [];
      const done = new Set<Anchor>();
      return inner.flatMap((level): Draft[] => {
        if (done.has(level.anchor) || level === datum) return [];
        done.add(level.anchor);
        const twin = inner.find(
          ({ at, anchor }) => anchor !== level.anchor && Math.abs(at + level.at - low - high) < SAME_MM,
        );
        if (twin) done.add(twin.anchor);
        const to = twin ?? datum;
        return [
          {
            kind: 'distance',
            from: to.anchor.name,
            to: level.anchor.name,
            ...this.sized(`${wordsOf(to.anchor.name)} to ${wordsOf(level.anchor.name)}`, Math.abs(level.at - to.at)),
          },
        ];
      });
    });
  }

  private isHole(anchor: Anchor): boolean {
    return this.holes.some(({ faceIds }) => anchor.faceIds.some((id) => faceIds.includes(id)));
  }

  /** Round walls that go all the way round, by step and size. */
  private wholeRounds(): readonly (readonly Anchor<Cylinder>[])[] {
    const whole = cylindersOf(this.anchors).filter((anchor) => this.isWhole(anchor) || this.isHole(anchor));
    return grouped(whole, ({ name, surface }) => `${stepOf(name)} ${surface.side} ${surface.radiusMm.toFixed(4)}`);
  }

  /** Whether a whole circle bounds the wall, however much of it holes and joints take away. */
  private isWhole({ faceIds, surface }: Anchor<Cylinder>): boolean {
    const { faces, edges } = this.basis.solid;
    return faceIds.some((id) =>
      faces[id]?.edgeIds.some((edgeId) => {
        const edge = edges[edgeId];
        return edge?.curve === 'circle' && Math.abs(edge.lengthMm - 2 * Math.PI * surface.radiusMm) < SAME_MM;
      }),
    );
  }

  private diameters(): Draft[] {
    return this.wholeRounds().map((walls): Draft => {
      const [first] = walls;
      const radius = first?.surface.radiusMm ?? 0;
      const what = first !== undefined && this.isHole(first) ? 'hole diameter' : 'diameter';
      return {
        kind: 'diameter',
        of: walls.map(({ name }) => name),
        ...this.sized(`${wordsOf(stepOf(first?.name ?? ''))} ${what}`, 2 * radius),
        ...(walls.length > 1 ? { prefix: `${String(walls.length)} x` } : {}),
      };
    });
  }

  private rounds(): Draft[] {
    const whole = new Set(this.wholeRounds().flat());
    const partial = cylindersOf(this.anchors).filter((anchor) => !whole.has(anchor) && !this.isHole(anchor));
    return grouped(partial, ({ name, surface }) => `${stepOf(name)} ${surface.radiusMm.toFixed(4)}`).map(
      (walls): Draft => ({
        kind: 'radius',
        of: walls.map(({ name }) => name),
        ...this.sized(`${wordsOf(stepOf(walls[0]?.name ?? ''))} radius`, walls[0]?.surface.radiusMm ?? 0),
      }),
    );
  }

  private holeOf(anchor: Anchor): Hole | undefined {
    return this.holes.find(({ faceIds }) => anchor.faceIds.some((id) => faceIds.includes(id)));
  }

  /** The narrow walls of holes, by step. */
  private drilled(): readonly (readonly { readonly anchor: Anchor<Cylinder>; readonly hole: Hole }[])[] {
    const walls = cylindersOf(this.anchors).flatMap((anchor) => {
      const hole = this.holeOf(anchor);
      return hole && Math.abs(hole.diameterMm - 2 * anchor.surface.radiusMm) < SAME_MM ? [{ anchor, hole }] : [];
    });
    return grouped(walls, ({ anchor }) => stepOf(anchor.name));
  }

  private holeSizes(): Draft[] {
    return this.drilled().flatMap((group): Draft[] => {
      const [first] = group;
      if (first === undefined) return [];
      const { anchor, hole } = first;
      const name = wordsOf(stepOf(anchor.name));
      const of = anchor.name;
      const size = (what: string, which: Extract<Check, { kind: 'hole-size' }>['size'], valueMm: number): Draft => ({
        kind: 'hole-size',
        of,
        size: which,
        ...this.sized(`${name} ${what}`, valueMm),
      });
      return [
        ...(hole.through ? [] : [size('depth', 'depth', hole.depthMm)]),
        ...(hole.counterbore ? [size('counterbore depth', 'counterbore-depth', hole.counterbore.depthMm)] : []),
        ...(hole.countersink
          ? [
              size('countersink diameter', 'countersink-diameter', hole.countersink.diameterMm),
              {
                kind: 'countersink-angle',
                of,
                label: `${name} countersink angle`,
                nominal: String(Number(((hole.countersink.angleRad * 180) / Math.PI).toFixed(4))),
                tolerance: '0.5',
              } satisfies Draft,
            ]
          : []),
      ];
    });
  }

  /** The first hole of a step from the outer faces, the others from the first; holes on a circle by its diameter. */
  private holePlaces(): Draft[] {
    const circles = featuresOf(this.basis.solid, 'bolt-circle');
    return this.drilled().flatMap((group): Draft[] => {
      const [first, ...others] = group;
      if (first === undefined) return [];
      const name = wordsOf(stepOf(first.anchor.name));
      const onCircle = circles.find(({ faceIds }) =>
        group.every(({ anchor }) => anchor.faceIds.some((id) => faceIds.includes(id))),
      );
      if (onCircle && group.length >= 3)
        return [
          {
            kind: 'bolt-circle',
            of: group.map(({ anchor }) => anchor.name),
            ...this.sized(`${name} circle`, onCircle.diameterMm),
          },
        ];
      const { surface } = first.anchor;
      const shaft = cylindersOf(this.anchors).find(
        (other) =>
          other.surface.side === 'convex' &&
          length(cross(other.surface.direction, surface.direction)) < SAME_SINE &&
          distanceToLine(surface.origin, other.surface.origin, other.surface.direction) < SAME_MM,
      );
      const places = shaft
        ? [
            {
              kind: 'concentric',
              from: shaft.name,
              to: first.anchor.name,
              label: `${name} concentric with ${wordsOf(shaft.name)}`.slice(0, 80),
              tolerance: this.tolerance,
            } satisfies Draft,
          ]
        : this.fromDatum(first.anchor, name);
      const seen = new Set<string>();
      return [
        ...places,
        ...others.flatMap(({ anchor }): Draft[] =>
          AXES.flatMap(([axis, direction]): Draft[] => {
            if (length(cross(direction, surface.direction)) < SAME_SINE) return [];
            const apart = Math.abs(dot(subtract(anchor.surface.origin, surface.origin), direction));
            const key = `${axis} ${apart.toFixed(3)}`;
            if (apart < SAME_MM || Math.abs(dot(direction, surface.direction)) > SAME_SINE || seen.has(key)) return [];
            seen.add(key);
            return [
              {
                kind: 'center-distance',
                from: first.anchor.name,
                to: anchor.name,
                along: axis,
                ...this.sized(`${name} apart along ${axis.toUpperCase()}`, apart),
              },
            ];
          }),
        ),
      ];
    });
  }

  private fromDatum({ name: of, surface }: Anchor<Cylinder>, name: string): Draft[] {
    return AXES.flatMap(([axis, direction]): Draft[] => {
      if (Math.abs(dot(direction, surface.direction)) > SAME_SINE) return [];
      const [datum] = this.levels(direction);
      if (datum === undefined) return [];
      return [
        {
          kind: 'hole-position',
          of,
          from: datum.anchor.name,
          ...this.sized(
            `${name} from ${wordsOf(datum.anchor.name)} along ${axis.toUpperCase()}`,
            Math.abs(dot(surface.origin, direction) - datum.at),
          ),
        },
      ];
    });
  }

  private chamfers(): Draft[] {
    const seen = new Set<string>();
    return featuresOf(this.basis.solid, 'chamfer').flatMap(({ onFaceIds, sizesMm }): Draft[] => {
      const names = onFaceIds.map((id) => this.anchors.find(({ faceIds }) => faceIds.includes(id))?.name);
      const [on, to] = names;
      if (on === undefined || to === undefined) return [];
      const key = [...sizesMm]
        .map((size) => size.toFixed(3))
        .sort()
        .join(' ');
      if (seen.has(key)) return [];
      seen.add(key);
      const equal = Math.abs(sizesMm[0] - sizesMm[1]) < SAME_MM;
      const check = (from: string, other: string, valueMm: number): Draft => ({
        kind: 'chamfer-size',
        on: from,
        to: other,
        ...this.sized(`Bevel on ${wordsOf(from)}`, valueMm),
      });
      return [check(on, to, sizesMm[0]), ...(equal ? [] : [check(to, on, sizesMm[1])])];
    });
  }

  features(): Draft[] {
    return this.drilled().flatMap((group): Draft[] => {
      const [first] = group;
      if (first === undefined || group.length < 2) return [];
      const alike = this.holes.filter((hole) => Math.abs(hole.diameterMm - first.hole.diameterMm) < SAME_MM);
      return [
        {
          kind: 'hole-count',
          like: first.anchor.name,
          label: `Number of ${wordsOf(stepOf(first.anchor.name)).toLowerCase()} holes`,
          nominal: String(alike.length),
        },
      ];
    });
  }

  properties(): Draft[] {
    return [
      { kind: 'volume', label: 'Volume', tolerancePercent: 0.5 },
      { kind: 'area', label: 'Surface area', tolerancePercent: 0.5 },
      { kind: 'mass', label: 'Mass', tolerancePercent: 0.5 },
      {
        kind: 'center-of-mass',
        label: 'Center of mass',
        tolerance: this.basis.exercise.recipe.unit === 'mm' ? '0.1' : '0.004',
      },
    ];
  }

  hygiene(): Draft[] {
    return [
      { kind: 'single-body', label: 'One closed body' },
      { kind: 'unit', label: 'Unit' },
      { kind: 'no-needless-edges', label: 'No needless edges' },
    ];
  }
}

const stepOf = (name: string): string => name.split('.')[0] ?? name;

/** "base.end" as "Base end". */
function wordsOf(name: string): string {
  const words = name.replace(/[.-]+/g, ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function grouped<T>(items: readonly T[], keyOf: (item: T) => string): readonly (readonly T[])[] {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const key = keyOf(item);
    groups.set(key, [...(groups.get(key) ?? []), item]);
  }
  return [...groups.values()];
}
