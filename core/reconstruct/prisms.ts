import { featuresOf, graphOf, type Boss, type FaceGraph, type FeatureOf, type SlottedHole } from '#core/feature';
import { contourArea, type Contour, type Kernel } from '#core/kernel';
import type { Step } from '#core/recipe';
import type { Cylinder, Face, Plane, Solid } from '#core/solid';
import { ARITHMETIC_MM, SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';
import { add, distance, dot, negate, scale, type Vec2, type Vec3 } from '#core/vector';

import {
  degrees,
  lengthIn,
  namedPlane,
  nameOf,
  nameOfFace,
  offsetBasePlane,
  onPlane,
  partsOf,
  pointIn,
  type Candidate,
  type Naming,
} from './candidate.ts';
import { outlineFrom, rimOf } from './outline.ts';

type Recess = FeatureOf<'pocket'> | FeatureOf<'slot'> | FeatureOf<'step'>;

const RECESS_KINDS = ['pocket', 'slot', 'step'] as const;

/** What an outline was extruded for: slotted holes, pockets, slots, steps, round bosses, ribs. */
export function prismCandidates(kernel: Kernel, solid: Solid, naming: Naming): readonly Candidate[] {
  const graph = graphOf(solid);
  const recesses = RECESS_KINDS.flatMap((kind): readonly Recess[] => featuresOf(solid, kind));
  return [
    ...featuresOf(solid, 'slotted-hole').flatMap((slotted) => slottedHole(kernel, slotted, solid, naming) ?? []),
    ...recesses.flatMap((recess) => recessOf(kernel, graph, recess, naming) ?? []),
    ...featuresOf(solid, 'rib').flatMap(
      ({ faceIds, thicknessMm }) => rib(kernel, graph, { faceIds, thicknessMm, naming }) ?? [],
    ),
    ...featuresOf(solid, 'groove').flatMap((groove) => grooveOf(kernel, graph, groove, naming) ?? []),
    ...featuresOf(solid, 'boss').flatMap((boss) => bossOf(kernel, graph, boss, naming) ?? []),
  ];
}

const placeOf = (naming: Naming, point: Vec3, normal: Vec3) =>
  namedPlane(naming, point, normal) ?? offsetBasePlane(naming.unit, point, normal);

/** The id of the step that the surfaces of a feature are named by, which may be known as something else as well. */
function idOf(faces: readonly (Face | undefined)[], kinds: readonly [string, ...string[]], naming: Naming): string {
  for (const face of faces) {
    const name = face && nameOf(naming, (own) => own.kind === 'plane' && samePlane(own, face));
    if (name && kinds.some((kind) => name.startsWith(`${kind}-`))) return partsOf(name).stepId;
  }
  return `${kinds[0]}-of-part`;
}

const ALONG_U = 1e-9;

/** Names of flat surfaces lie on their faces, which tells faces in one plane apart. */
const samePlane = (own: Plane, { surface, centroid }: Face): boolean =>
  surface.kind === 'plane' &&
  dot(own.normal, surface.normal) > SAME_DIRECTION_COSINE &&
  distance(own.origin, centroid) < SAME_PLACE_MM;

function slottedHole(kernel: Kernel, slotted: SlottedHole, solid: Solid, naming: Naming): Candidate | null {
  const { unit } = naming;
  const { origin, along, widthMm, lengthMm, depthMm, through } = slotted;
  const half = scale(slotted.direction, depthMm / 2);
  // It begins at the end that lies in a face, for a blind one at the end that is not its floor.
  const floor = through ? undefined : solid.faces[slotted.faceIds.at(-1) ?? -1];
  const ends = [add(origin, half), add(origin, negate(half))].filter(
    (end) =>
      floor === undefined || Math.abs(dot(end, slotted.direction) - dot(floor.centroid, slotted.direction)) > 1e-6,
  );
  for (const end of ends) {
    const out =
      dot(end, slotted.direction) > dot(origin, slotted.direction) ? slotted.direction : negate(slotted.direction);
    const on = placeOf(naming, end, out);
    if (on === null) continue;
    const [u, v] = onPlane(on.plane, end);
    const [du, dv] = [dot(along, on.plane.u), dot(along, on.plane.v)];
    const contour = slotContour([u, v], [du, dv], lengthMm, widthMm);
    const area = Math.abs(contourArea(contour));
    // Of the two directions of its length, the one that leads to the right.
    const back = du < -ALONG_U || (du < ALONG_U && dv < 0) ? -1 : 1;
    const angle = degrees(Math.atan2(back * dv, back * du));
    const common = {
      id: idOf(
        slotted.faceIds.map((id) => solid.faces[id]),
        ['slotted-hole'],
        naming,
      ),
      label: `Slotted hole of ${lengthIn(unit, lengthMm)} x ${lengthIn(unit, widthMm)} ${unit}`,
      op: 'extrude',
      mode: 'cut',
      plane: on.reference,
      outlines: [
        {
          shape: 'slot',
          center: pointIn(unit, [u, v]),
          length: lengthIn(unit, lengthMm),
          width: lengthIn(unit, widthMm),
          ...(angle === '0' ? {} : { angle }),
        },
      ],
    } as const;
    const deep = { ...common, extent: { kind: 'depth', depth: lengthIn(unit, depthMm) } } as const;
    return {
      undoneBy: 'filling',
      tools: () => [kernel.extrude(on.plane, contour, -depthMm, 0)],
      openMm2: () => (through ? 2 * area : area),
      steps: through ? [{ ...common, extent: { kind: 'through' } }, deep] : [deep],
    };
  }
  return null;
}

/** Two half circles joined by straight lines; `along` is a unit vector. */
function slotContour([u, v]: Vec2, [du, dv]: Vec2, lengthMm: number, widthMm: number): Contour {
  const [run, radius] = [(lengthMm - widthMm) / 2, widthMm / 2];
  const at = (a: number, b: number): Vec2 => [u + a * du - b * dv, v + a * dv + b * du];
  return {
    kind: 'path',
    start: at(-run, -radius),
    segments: [
      { kind: 'line', to: at(run, -radius) },
      { kind: 'arc', through: at(run + radius, 0), to: at(run, radius) },
      { kind: 'line', to: at(-run, radius) },
      { kind: 'arc', through: at(-run - radius, 0), to: at(-run, -radius) },
    ],
  };
}

const RECESS_NAMES: Readonly<Record<Recess['kind'], string>> = { pocket: 'Pocket', slot: 'Slot', step: 'Step' };

/** What takes more than this share of the part to fill is the shape of the part itself. */
const MOST_FILLED = 0.5;

/** A recess over its floor. */
function recessOf(kernel: Kernel, graph: FaceGraph, recess: Recess, naming: Naming): Candidate | null {
  const { unit } = naming;
  const { kind, depthMm } = recess;
  const faces = recess.faceIds.map((id) => graph.solid.faces[id]);
  const [floor] = faces;
  if (floor?.surface.kind !== 'plane' || (kind === 'pocket' && recess.through)) return null;
  const { normal } = floor.surface;
  const above = add(floor.centroid, scale(normal, depthMm));
  const on = placeOf(naming, above, normal);
  if (on === null) return null;
  const rim = rimOf(graph, floor, on.plane);
  if (rim === null) return null;
  const area = Math.abs(contourArea(rim));
  if (area * depthMm > MOST_FILLED * graph.solid.massProperties.volumeMm3) return null;
  const depth = lengthIn(unit, depthMm);
  const step: Step = {
    id: idOf(faces, [kind, ...RECESS_KINDS], naming),
    label: `${RECESS_NAMES[kind]}, ${depth} ${unit} deep`,
    op: 'extrude',
    mode: 'cut',
    plane: on.reference,
    outlines: [outlineFrom(rim, unit)],
    extent: { kind: 'depth', depth },
  };
  const walls = faces.slice(1).reduce((sum, face) => sum + (face?.areaMm2 ?? 0), 0);
  return {
    undoneBy: 'filling',
    tools: () => [kernel.extrude(on.plane, rim, -depthMm, 0)],
    openMm2: (toolsMm2) => (kind === 'pocket' ? area : toolsMm2 - area - walls),
    steps: [step],
  };
}

/** A ring-shaped channel, as a ring that is cut over its width. */
function grooveOf(kernel: Kernel, graph: FaceGraph, groove: FeatureOf<'groove'>, naming: Naming): Candidate | null {
  const { unit } = naming;
  const { origin, direction, diameterMm, widthMm, depthMm, internal } = groove;
  const end = add(origin, scale(direction, widthMm / 2));
  const other = add(origin, scale(direction, -widthMm / 2));
  const on = offsetBasePlane(unit, end, direction) ?? offsetBasePlane(unit, other, negate(direction));
  if (on === null) return null;
  const center = onPlane(on.plane, origin);
  const rim = internal ? diameterMm - 2 * depthMm : diameterMm + 2 * depthMm;
  const [outer, inner] = [Math.max(rim, diameterMm), Math.min(rim, diameterMm)];
  const circle = (sizeMm: number) =>
    ({ shape: 'circle', center: pointIn(unit, center), diameter: lengthIn(unit, sizeMm) }) as const;
  const contour = (sizeMm: number): Contour => ({ kind: 'circle', center, radiusMm: sizeMm / 2 });
  const [wall] = groove.faceIds.map((id) => graph.solid.faces[id]);
  const name = wall && nameOfFace(naming, wall);
  const width = lengthIn(unit, widthMm);
  return {
    undoneBy: 'filling',
    tools: () => [kernel.extrude(on.plane, { outer: contour(outer), holes: [contour(inner)] }, -widthMm, 0)],
    openMm2: () => Math.PI * rim * widthMm,
    steps: [
      {
        id: name?.startsWith('groove-') === true ? partsOf(name).stepId : 'groove-of-part',
        label: `Groove, ${width} ${unit} wide`,
        op: 'extrude',
        mode: 'cut',
        plane: on.reference,
        outlines: [{ shape: 'difference', parts: [circle(outer), circle(inner)] }],
        extent: { kind: 'depth', depth: width },
      },
    ],
  };
}

function bossOf(kernel: Kernel, graph: FaceGraph, boss: Boss, naming: Naming): Candidate | null {
  const { unit } = naming;
  const { origin, direction, diameterMm, heightMm } = boss;
  const on = placeOf(naming, origin, direction);
  if (on === null) return null;
  const center = onPlane(on.plane, origin);
  const [wall] = boss.faceIds.map((id) => graph.solid.faces[id]);
  const name = wall && nameOfFace(naming, wall);
  const [diameter, height] = [lengthIn(unit, diameterMm), lengthIn(unit, heightMm)];
  return {
    undoneBy: 'removing',
    tools: () => [kernel.extrude(on.plane, { kind: 'circle', center, radiusMm: diameterMm / 2 }, 0, heightMm)],
    openMm2: () => Math.PI * (diameterMm / 2) ** 2,
    steps: [
      {
        id: name?.startsWith('boss-') === true ? partsOf(name).stepId : 'boss-of-part',
        label: `Boss of ${diameter} ${unit}, ${height} ${unit} high`,
        op: 'extrude',
        mode: 'add',
        plane: on.reference,
        outlines: [{ shape: 'circle', center: pointIn(unit, center), diameter }],
        extent: { kind: 'depth', depth: height },
      },
    ],
  };
}

/** Share of a round wall that stays as a core, so that it can be made anew with half of its diameter. */
const CORE = 0.45;

/**
 * Round outer walls between two flat ends, as the disc or shaft over a core that stays: for their diameters, which no
 * other step has.
 */
export function wallCandidates(kernel: Kernel, solid: Solid, naming: Naming): readonly Candidate[] {
  const { unit } = naming;
  const graph = graphOf(solid);
  const pieces = graph.cylinders('convex').flatMap(({ face, surface }): readonly WallPiece[] => {
    const name = nameOfFace(naming, face);
    const named = name === null ? undefined : naming.surfaces.get(name);
    if (name === null || named?.kind !== 'cylinder' || graph.turn(face, surface.origin, surface.direction) < 1)
      return [];
    const [fromMm, toMm] = graph.span(face, named.origin, named.direction);
    return [{ name, surface: named, fromMm, toMm }];
  });
  return joined(pieces).flatMap(({ name, surface, fromMm, toMm }): readonly Candidate[] => {
    const { origin, direction, radiusMm } = surface;
    const at = (alongMm: number): Vec3 => add(origin, scale(direction, alongMm));
    const on = placeOf(naming, at(toMm), direction) ?? placeOf(naming, at(fromMm), negate(direction));
    if (on === null) return [];
    const center = onPlane(on.plane, origin);
    const lengthMm = toMm - fromMm;
    const diameter = lengthIn(unit, 2 * radiusMm);
    const circle = (share: number): Contour => ({ kind: 'circle', center, radiusMm: share * radiusMm });
    return [
      {
        undoneBy: 'removing',
        tools: () => [kernel.extrude(on.plane, { outer: circle(1), holes: [circle(CORE)] }, -lengthMm, 0)],
        openMm2: null,
        steps: [
          {
            id: `${WALL_STEP}${partsOf(name).stepId}`,
            label: `Round of ${diameter} ${unit}`,
            op: 'extrude',
            mode: 'add',
            plane: on.reference,
            outlines: [{ shape: 'circle', center: pointIn(unit, center), diameter }],
            extent: { kind: 'depth', depth: lengthIn(unit, lengthMm) },
            reversed: true,
          },
        ],
      },
    ];
  });
}

interface WallPiece {
  readonly name: string;
  readonly surface: Cylinder;
  readonly fromMm: number;
  readonly toMm: number;
}

/** Pieces of one wall that touch, as one. */
function joined(pieces: readonly WallPiece[]): readonly WallPiece[] {
  const made: WallPiece[] = [];
  for (const piece of [...pieces].sort((a, b) => a.name.localeCompare(b.name) || a.fromMm - b.fromMm)) {
    const last = made.at(-1);
    if (last?.name === piece.name && piece.fromMm - last.toMm < ARITHMETIC_MM)
      made[made.length - 1] = { ...last, toMm: Math.max(last.toMm, piece.toMm) };
    else made.push(piece);
  }
  return made;
}

/** Steps of round walls have nothing but a diameter that can be another: see `wallCandidates`. */
const WALL_STEP = 'wall-of-';

/** Whether a step was made of a single round wall. */
export const isWallStep = ({ id }: Pick<Step, 'id'>): boolean => id.startsWith(WALL_STEP);

/** A thin wall between two flat sides of one outline. */
function rib(
  kernel: Kernel,
  graph: FaceGraph,
  {
    faceIds,
    thicknessMm,
    naming,
  }: { readonly faceIds: readonly number[]; readonly thicknessMm: number; readonly naming: Naming },
): Candidate | null {
  const { unit } = naming;
  const faces = faceIds.map((id) => graph.solid.faces[id]);
  const [side] = faces;
  if (side?.surface.kind !== 'plane') return null;
  const middle = add(side.centroid, scale(side.surface.normal, -thicknessMm / 2));
  const plane = placeOf(naming, middle, side.surface.normal) ?? placeOf(naming, middle, negate(side.surface.normal));
  const rim = plane && rimOf(graph, side, plane.plane);
  if (plane === null || rim === null) return null;
  const thickness = lengthIn(unit, thicknessMm);
  return {
    undoneBy: 'removing',
    tools: () => [kernel.extrude(plane.plane, rim, -thicknessMm / 2, thicknessMm / 2)],
    openMm2: null,
    steps: [
      {
        id: idOf(faces, ['rib'], naming),
        label: `Rib of ${thickness} ${unit}`,
        op: 'extrude',
        mode: 'add',
        plane: plane.reference,
        outlines: [outlineFrom(rim, unit)],
        extent: { kind: 'symmetric', depth: thickness },
      },
    ],
  };
}
