import { freeCheckId, quantityOfKind, usualTolerance, type Check } from '#core/check';
import { labelOf, sameSurface, surfaceLabel, stepOfSurface as stepOf } from '#core/recipe';
import { circleCover, featuresOf, findHoles, holeKey, type Hole } from '#core/feature';
import { grouped } from '#core/group';
import { namesIn } from '#core/quantity';
import { roundingMm, type Cylinder, type Surface } from '#core/solid';
import { BUILT_PARALLEL_SINE, SAME_DIRECTION_COSINE, SAME_SIZE_MM } from '#core/tolerance';
import { cross, distanceToLine, dot, length, scale, subtract, type Vec3 } from '#core/vector';

import { anchorsOf, cylindersOf, planesOf, type Anchor } from './anchors.ts';
import type { PlanBasis } from './basis.ts';
import { writtenAs } from './letters.ts';
import { placeEverything, type CylinderGroup } from './places.ts';
import { axisOfFirst, ringsOf, type Ring } from './rings.ts';

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

/** Share of the whole score, in percent, of each group of checks. */
const SHARES = { dimensions: 60, features: 10, properties: 20, 'model-quality': 10 } as const;

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
    // An angle that the letters change is left out, like a size that follows them in no way.
    if (valueMm === undefined)
      return quantityOfKind(check.kind) !== 'angle' || elsewhere.every((drafts) => drafts.has(keyOf(draft)))
        ? check
        : { ...check, off: true };
    const values = elsewhere.map((drafts) => drafts.get(keyOf(draft))?.valueMm);
    const nominal = writtenAs(valueMm, values, basis, others);
    // A size that follows the letters in no way that a drawing writes cannot hold for other values.
    const follows =
      namesIn(nominal).length > 0 ||
      values.every((value) => value !== undefined && Math.abs(value - valueMm) < SAME_SIZE_MM);
    return { ...check, nominal, ...(follows ? {} : { off: true }) } as Draft;
  });
  const groups = {
    dimensions,
    features: planner.features(),
    properties: planner.properties(),
    'model-quality': planner.modelQuality(),
  };
  const labels = new Map<string, number>();
  /** No two alike: those after the first have a number. */
  const labelled = (label: string): string => {
    const count = (labels.get(label) ?? 0) + 1;
    labels.set(label, count);
    return count === 1 ? label : `${label.slice(0, 74)} (${String(count)})`;
  };
  const used = new Set<string>();
  const idOf = (label: string): string => {
    const id = freeCheckId(label, used);
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
    return drafts.map((draft, i) => {
      const label = labelled(draft.label);
      return { ...draft, label, id: idOf(label), weight: weights[i] ?? 0 };
    });
  });
}

/** What a check is about, whatever its size. */
function keyOf(draft: Draft): string {
  const { valueMm: _, label: __, ...rest } = draft;
  return JSON.stringify(rest);
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
  private readonly rings: readonly Ring[];

  constructor(basis: PlanBasis) {
    this.basis = basis;
    this.anchors = anchorsOf(basis.solid, basis.surfaces);
    this.rings = ringsOf(basis.exercise.recipe, this.anchors);
    this.holes = findHoles(basis.solid);
    this.tolerance = usualTolerance(basis.exercise.decimals);
  }

  /** A surface as a check on it is called, and the step that made it. */
  private words(name: string): string {
    return surfaceLabel(name, this.basis.exercise.recipe.steps);
  }

  private stepWords(name: string): string {
    const id = stepOf(name);
    return labelOf(
      this.basis.exercise.recipe.steps.find((step) => step.id === id),
      id,
    );
  }

  /** The value stays beside the check until it is known how the letters give it. */
  private sized(label: string, valueMm: number) {
    return { label: label.slice(0, 80), nominal: '', tolerance: this.tolerance, valueMm };
  }

  dimensions(): Draft[] {
    return [
      ...this.places(),
      ...this.diameters(),
      ...this.acrossFlats(),
      ...this.rounds(),
      ...this.holeSizes(),
      ...this.circles(),
      ...this.spacings(),
      ...this.concentric(),
      ...this.inLine(),
      ...this.chamfers(),
    ];
  }

  /** Where everything is, along the three axes of the part. */
  private places(): Draft[] {
    const onCircle = new Set([
      ...this.boltCircles().flatMap(({ group }) => group.map(({ anchor }) => anchor)),
      ...this.rings.flatMap(({ roles }) => roles.flat()),
    ]);
    const holes = this.drilled().map((group): CylinderGroup => ({
      name: this.stepWords(group[0]?.anchor.name ?? ''),
      rounds: group.map(({ anchor }) => anchor),
      together: group.some(({ anchor }) => onCircle.has(anchor)),
    }));
    const drilled = new Set(holes.flatMap(({ rounds }) => rounds));
    const others = grouped(
      cylindersOf(this.anchors).filter(
        (anchor) => !drilled.has(anchor) && !this.isHole(anchor) && this.isLarge(anchor),
      ),
      ({ name, surface }) => `${stepOf(name)} ${surface.radiusMm.toFixed(4)}`,
    ).map((rounds): CylinderGroup => ({
      name: this.stepWords(rounds[0].name),
      rounds,
      together: rounds.some((one) => onCircle.has(one)),
    }));
    const holeFaces = new Set(this.holes.flatMap(({ faceIds }) => faceIds));
    // Floors and shoulders of holes are placed by their depths.
    const flats = this.anchors.filter(
      ({ name, faceIds }) => !faceIds.every((id) => holeFaces.has(id)) && !/\.(shoulder|floor)(-\d+)?$/.test(name),
    );
    const isShaft = ({ rounds }: CylinderGroup): boolean => rounds.some((one) => this.isWhole(one));
    const groups = [...others.filter(isShaft), ...holes, ...others.filter((group) => !isShaft(group))];
    return placeEverything(this.basis.solid, flats, groups, (name) => this.words(name)).flatMap(
      ({ shown, label, valueMm, ...draft }): Draft[] => {
        // Where only the shape of a round is checked by its place, the round says enough.
        if (
          !shown &&
          draft.kind === 'hole-position' &&
          !drilled.has(this.anchors.find(({ name }) => name === draft.of) as Anchor<Cylinder>)
        )
          return [];
        return [{ ...draft, ...this.sized(label, valueMm), ...(shown ? {} : { onSheet: false }) }];
      },
    );
  }

  /** Whether a wall goes far enough round to have a place of its own, as a corner has not. */
  private isLarge({ faceIds }: Anchor<Cylinder>): boolean {
    return faceIds.some((id) => {
      const face = this.basis.solid.faces[id];
      return face !== undefined && circleCover(this.basis.solid, face) >= 0.45;
    });
  }

  /** Widths between parallel flat surfaces that lie aslant to the part, such as those of a hexagon; each width once. */
  private acrossFlats(): Draft[] {
    const slanted = planesOf(this.anchors).filter(
      ({ surface }) =>
        AXES.every(([, direction]) => length(cross(surface.normal, direction)) > BUILT_PARALLEL_SINE) &&
        this.isWall(surface.normal),
    );
    const seen = new Set<string>();
    const used = new Set<Anchor>();
    return slanted.flatMap((a): Draft[] => {
      const b = slanted.find(
        (other) =>
          !used.has(other) &&
          !used.has(a) &&
          dot(other.surface.normal, a.surface.normal) < -SAME_DIRECTION_COSINE &&
          stepOf(other.name) === stepOf(a.name),
      );
      if (b === undefined) return [];
      used.add(a).add(b);
      const apart = Math.abs(dot(subtract(a.surface.origin, b.surface.origin), a.surface.normal));
      const key = `${stepOf(a.name)} ${apart.toFixed(4)}`;
      if (seen.has(key) || this.hasWidth(stepOf(a.name), apart)) return [];
      seen.add(key);
      return [
        { kind: 'distance', from: a.name, to: b.name, ...this.sized(`${this.stepWords(a.name)} across flats`, apart) },
      ];
    });
  }

  /** Whether a step has two faces along the axes of the part that are so far apart: their distance says it for all. */
  private hasWidth(stepId: string, apartMm: number): boolean {
    const own = planesOf(this.anchors).filter(({ name }) => stepOf(name) === stepId);
    return own.some((a) =>
      own.some(
        (b) =>
          AXES.some(([, direction]) => dot(a.surface.normal, direction) > SAME_DIRECTION_COSINE) &&
          dot(a.surface.normal, b.surface.normal) < -SAME_DIRECTION_COSINE &&
          Math.abs(Math.abs(dot(subtract(a.surface.origin, b.surface.origin), a.surface.normal)) - apartMm) <
            SAME_SIZE_MM,
      ),
    );
  }

  /** Whether a surface stands upright on one of the principal planes, so that a view shows it as a line. */
  private isWall(normal: Vec3): boolean {
    return AXES.some(([, direction]) => Math.abs(dot(normal, direction)) < BUILT_PARALLEL_SINE);
  }

  private isHole(anchor: Anchor): boolean {
    return this.holes.some(({ faceIds }) => anchor.faceIds.some((id) => faceIds.includes(id)));
  }

  /** Whether a face has no other neighbors than walls of holes, as their floors and shoulders. */
  private isInHole({ faceIds }: Anchor): boolean {
    const { faces, edges } = this.basis.solid;
    const walls = new Set(this.holes.flatMap((hole) => hole.faceIds));
    return faceIds.every((id) =>
      faces[id]?.edgeIds.every((edgeId) => edges[edgeId]?.faceIds.some((other) => other !== id && walls.has(other))),
    );
  }

  /** Round walls that go all the way round, by step and size. */
  private wholeCylinders(): readonly (readonly Anchor<Cylinder>[])[] {
    const whole = cylindersOf(this.anchors).filter((anchor) => this.isWhole(anchor) || this.isHole(anchor));
    return grouped(whole, (anchor) => {
      const hole = this.holeOf(anchor);
      const { name, surface } = anchor;
      // Like holes share their diameter, whichever step made them; shafts are told apart.
      return hole === undefined
        ? `${stepOf(name)} ${surface.side} ${surface.radiusMm.toFixed(4)}`
        : `${holeKey(hole)} ${surface.radiusMm.toFixed(4)}`;
    });
  }

  /** Whether a whole circle bounds the wall, however much of it holes and joints take away. */
  private isWhole({ faceIds, surface }: Anchor<Cylinder>): boolean {
    const { faces, edges } = this.basis.solid;
    return faceIds.some((id) =>
      faces[id]?.edgeIds.some((edgeId) => {
        const edge = edges[edgeId];
        return edge?.curve === 'circle' && Math.abs(edge.lengthMm - 2 * Math.PI * surface.radiusMm) < SAME_SIZE_MM;
      }),
    );
  }

  private diameters(): Draft[] {
    return this.wholeCylinders().map((walls): Draft => {
      const [first] = walls;
      const radius = first?.surface.radiusMm ?? 0;
      const isRecess = first?.name.endsWith('.recess') === true;
      const what = isRecess
        ? 'counterbore diameter'
        : first !== undefined && this.isHole(first)
          ? 'hole diameter'
          : 'diameter';
      return {
        kind: 'diameter',
        of: walls.map(({ name }) => name),
        ...this.sized(joined(this.stepWords(first?.name ?? ''), what), 2 * radius),
        ...(walls.length > 1 ? { prefix: `${String(walls.length)} x` } : {}),
      };
    });
  }

  private rounds(): Draft[] {
    const whole = new Set(this.wholeCylinders().flat());
    const isPartial = (anchor: Anchor): boolean => !whole.has(anchor as Anchor<Cylinder>) && !this.isHole(anchor);
    const rounds = this.anchors.flatMap((anchor) => {
      const { surface, name } = anchor;
      const radiusMm = surface.kind === 'sphere' && !ROUND_OF_EDGES.test(name) ? null : roundingMm(surface);
      return radiusMm === null || !isPartial(anchor) ? [] : [{ name, radiusMm, side: sideOf(surface) }];
    });
    return grouped(rounds, ({ side, radiusMm }) => `${side} ${radiusMm.toFixed(4)}`).map((walls): Draft => ({
      kind: 'radius',
      of: walls.map(({ name }) => name),
      ...this.sized(`${this.stepWords(walls[0].name)} radius`, walls[0].radiusMm),
    }));
  }

  private holeOf(anchor: Anchor): Hole | undefined {
    return this.holes.find(({ faceIds }) => anchor.faceIds.some((id) => faceIds.includes(id)));
  }

  /** The narrow walls of holes, by step. */
  private drilled(): readonly (readonly { readonly anchor: Anchor<Cylinder>; readonly hole: Hole }[])[] {
    const walls = cylindersOf(this.anchors).flatMap((anchor) => {
      const hole = this.holeOf(anchor);
      return hole && Math.abs(hole.diameterMm - 2 * anchor.surface.radiusMm) < SAME_SIZE_MM ? [{ anchor, hole }] : [];
    });
    return grouped(walls, ({ hole }) => holeKey(hole));
  }

  private holeSizes(): Draft[] {
    return this.drilled().flatMap((group): Draft[] => {
      const [first] = group;
      if (first === undefined) return [];
      const { anchor, hole } = first;
      const name = this.stepWords(anchor.name);
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

  /** Groups of holes whose axes lie on one circle. */
  private boltCircles() {
    const circles = featuresOf(this.basis.solid, 'bolt-circle');
    return this.drilled().flatMap((group) => {
      const circle = circles.find(({ faceIds }) =>
        group.every(({ anchor }) => anchor.faceIds.some((id) => faceIds.includes(id))),
      );
      return circle !== undefined && group.length >= 3 ? [{ group, circle }] : [];
    });
  }

  private circles(): Draft[] {
    return this.boltCircles().map(({ group, circle }): Draft => ({
      kind: 'bolt-circle',
      of: group.map(({ anchor }) => anchor.name),
      ...this.sized(`${this.stepWords(group[0]?.anchor.name ?? '')} circle`, circle.diameterMm),
    }));
  }

  /** What is repeated at equal angles: the angles, and where the first of them lies. */
  private spacings(): Draft[] {
    return this.rings.flatMap((ring): Draft[] => {
      const { stepId, roles, about, spacingDegrees } = ring;
      // A bolt circle says how far from the center they lie.
      const isPlaced = roles.every((members) => members.every((round) => this.isHole(round)));
      const name = this.stepWords(stepId);
      const spacing: Draft = {
        kind: 'spacing',
        of: roles.flat().map((round) => round.name),
        ...(about === null ? {} : { about: about.name }),
        label: `${name} spacing`,
        nominal: String(Number(spacingDegrees.toFixed(4))),
        tolerance: '0.5',
      };
      return [spacing, ...(isPlaced ? [] : this.firstOfRing(ring, name))];
    });
  }

  /** How what is repeated is made up of two rounds, and how far from the center it lies: across the ring, or from its axis. */
  private firstOfRing(ring: Ring, name: string): Draft[] {
    const { roles, about } = ring;
    const [one, two] = roles.map(([first]) => first);
    const apart = (from: Anchor<Cylinder>, to: Anchor<Cylinder>, words: string): Draft => {
      const direction = from.surface.direction;
      const between = subtract(to.surface.origin, from.surface.origin);
      const across = subtract(between, scale(direction, dot(between, direction)));
      return {
        kind: 'center-distance',
        from: from.name,
        to: to.name,
        ...this.sized(`${name} ${words}`, length(across)),
      };
    };
    const own =
      one !== undefined && two !== undefined && roles.length === 2 ? [apart(one, two, 'between centers')] : [];
    const along = axisOfFirst(ring);
    const members = roles[0] ?? [];
    const isFull = Math.abs(members.length * ring.spacingDegrees - 360) < 1e-3;
    const opposite = isFull && members.length % 2 === 0 ? members[members.length / 2] : undefined;
    if (one === undefined || along === null) return own;
    const index = AXES.findIndex(([axis]) => axis === along) as 0 | 1 | 2;
    const placed = (from: Anchor<Cylinder>, to: Anchor<Cylinder>, words: string): Draft => ({
      kind: 'center-distance',
      from: from.name,
      to: to.name,
      along,
      ...this.sized(`${name} ${words}`, Math.abs(to.surface.origin[index] - from.surface.origin[index])),
    });
    if (opposite !== undefined) return [...own, placed(one, opposite, 'across the ring')];
    return about === null ? own : [...own, placed(about, one, 'from the center')];
  }

  /** Holes and other shafts on the axis of a shaft: each step once. */
  private concentric(): Draft[] {
    const shafts = cylindersOf(this.anchors).filter(
      (anchor) => anchor.surface.side === 'convex' && (this.isWhole(anchor) || this.goesRound(anchor)),
    );
    const others = [...this.drilled().flatMap((group) => group.map(({ anchor }) => anchor)), ...shafts];
    const seen = new Set<string>();
    return others.flatMap(({ name, surface }): Draft[] => {
      const shaft = shafts.find(
        (one) =>
          length(cross(one.surface.direction, surface.direction)) < BUILT_PARALLEL_SINE &&
          distanceToLine(surface.origin, one.surface.origin, one.surface.direction) < SAME_SIZE_MM,
      );
      const isHole = surface.side === 'concave';
      const isKnown = shaft === undefined || stepOf(shaft.name) === stepOf(name) || seen.has(stepOf(name));
      if (isKnown) return [];
      if (!isHole) seen.add(stepOf(name));
      const label = `${this.stepWords(name)} concentric with ${this.words(shaft.name)}`.slice(0, 80);
      return [{ kind: 'concentric', from: shaft.name, to: name, label, tolerance: this.tolerance }];
    });
  }

  /** Whether the faces of a wall go round most of its circle together, as one that notches have parted. */
  private goesRound({ faceIds }: Anchor<Cylinder>): boolean {
    const { faces } = this.basis.solid;
    const covered = faceIds.flatMap((id) => faces[id] ?? []).map((face) => circleCover(this.basis.solid, face));
    return covered.reduce((sum, share) => sum + share, 0) > 0.55;
  }

  /**
   * Flat ends and sides of copies, which the sheet draws in line and gives once: those of each step together. Floors of
   * holes are spoken for by the sizes of the holes.
   */
  private inLine(): Draft[] {
    const { steps } = this.basis.exercise.recipe;
    const copied = new Set([
      ...steps.flatMap((step) => ('steps' in step ? step.steps : [])),
      ...this.anchors.flatMap(({ name }) => (/^[^.]+\.\d+\./.test(name) ? [stepOf(name)] : [])),
    ]);
    const inLine = planesOf(this.anchors).filter(
      (anchor) =>
        copied.has(stepOf(anchor.name)) &&
        !this.isInHole(anchor) &&
        this.basis.solid.faces.filter(({ surface }) => sameSurface(surface, anchor.surface)).length > 1,
    );
    return grouped(inLine, ({ name }) => stepOf(name)).map((group): Draft => ({
      kind: 'in-line',
      of: group.map(({ name }) => name),
      label: `${this.stepWords(group[0].name)} in line`,
      tolerance: this.tolerance,
    }));
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
      const equal = Math.abs(sizesMm[0] - sizesMm[1]) < SAME_SIZE_MM;
      const check = (from: string, other: string, valueMm: number): Draft => ({
        kind: 'chamfer-size',
        on: from,
        to: other,
        ...this.sized(`Chamfer on ${this.words(from)}`, valueMm),
      });
      // The sheet writes one size and the angle.
      return [check(on, to, sizesMm[0]), ...(equal ? [] : [{ ...check(to, on, sizesMm[1]), onSheet: false } as Draft])];
    });
  }

  features(): Draft[] {
    return [
      ...this.holeCounts(),
      { kind: 'square', label: 'Square and parallel as drawn' },
      { kind: 'nothing-else', label: 'Nothing that the sheet does not show' },
    ];
  }

  private holeCounts(): Draft[] {
    return this.drilled().flatMap((group): Draft[] => {
      const [first] = group;
      if (first === undefined || group.length < 2) return [];
      const alike = this.holes.filter((hole) => Math.abs(hole.diameterMm - first.hole.diameterMm) < SAME_SIZE_MM);
      return [
        {
          kind: 'hole-count',
          like: first.anchor.name,
          label: joined(`Number of ${this.stepWords(first.anchor.name).toLowerCase()}`, 'holes').replace(
            /hole$/,
            'holes',
          ),
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

  modelQuality(): Draft[] {
    return [
      { kind: 'single-body', label: 'One closed body' },
      { kind: 'unit', label: 'Unit' },
      { kind: 'no-needless-edges', label: 'No needless edges' },
    ];
  }
}

/** Rounds of edges that were chosen together, as those of all convex ones. */
const ROUND_OF_EDGES = /\.round-\d+$/;

const sideOf = (surface: Surface): string => ('side' in surface ? surface.side : '');

/** Two words in a row, without saying "hole" twice: "Bolt holes" and "hole diameter" are "Bolt holes diameter". */
const joined = (name: string, what: string): string =>
  `${name} ${/holes?$/i.test(name) ? what.replace(/^holes?\b ?/, '') : what}`.trim();
