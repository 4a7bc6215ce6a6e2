import * as v from 'valibot';

import { LengthUnitSchema } from '#core/quantity';

export const Vec3Schema = v.pipe(v.tuple([v.number(), v.number(), v.number()]), v.readonly());
export const BoxSchema = v.pipe(v.object({ min: Vec3Schema, max: Vec3Schema }), v.readonly());
/** Material outside the wall (a hole) is concave, inside the wall (a shaft) convex. */
const SideSchema = v.picklist(['convex', 'concave']);

export const SurfaceSchema = v.variant('kind', [
  /** Normal points out of the material. */
  v.object({ kind: v.literal('plane'), origin: Vec3Schema, normal: Vec3Schema }),
  v.object({
    kind: v.literal('cylinder'),
    origin: Vec3Schema,
    direction: Vec3Schema,
    radiusMm: v.number(),
    side: SideSchema,
  }),
  v.object({
    kind: v.literal('cone'),
    origin: Vec3Schema,
    direction: Vec3Schema,
    /** Radius in the plane through `origin`. */
    radiusMm: v.number(),
    halfAngleRad: v.number(),
    apex: Vec3Schema,
    side: SideSchema,
  }),
  v.object({ kind: v.literal('sphere'), center: Vec3Schema, radiusMm: v.number(), side: SideSchema }),
  v.object({
    kind: v.literal('torus'),
    center: Vec3Schema,
    direction: Vec3Schema,
    majorRadiusMm: v.number(),
    minorRadiusMm: v.number(),
    side: SideSchema,
  }),
  v.object({ kind: v.literal('freeform') }),
]);
export type Surface = Readonly<v.InferOutput<typeof SurfaceSchema>>;
export type Plane = Extract<Surface, { kind: 'plane' }>;
export type Cylinder = Extract<Surface, { kind: 'cylinder' }>;
export type Cone = Extract<Surface, { kind: 'cone' }>;
export type Sphere = Extract<Surface, { kind: 'sphere' }>;
export type Torus = Extract<Surface, { kind: 'torus' }>;

export const FaceSchema = v.object({
  id: v.number(),
  surface: SurfaceSchema,
  areaMm2: v.number(),
  centroid: Vec3Schema,
  bounds: BoxSchema,
  edgeIds: v.pipe(v.array(v.number()), v.readonly()),
  /** Number of the body that the face bounds, from 0. */
  bodyId: v.optional(v.number(), 0),
  /** Half width, in mm, that covers the error of position and radius: 0 for exact geometry, more for triangles. */
  uncertaintyMm: v.optional(v.number(), 0),
});
export type Face = Readonly<v.InferOutput<typeof FaceSchema>>;

/**
 * How the two faces of an edge meet; `seam` joins a face with itself, `boundary` has one face, `non-manifold` more than two.
 */
const ConvexitySchema = v.picklist(['convex', 'concave', 'smooth', 'seam', 'boundary', 'non-manifold', 'degenerate']);
export type Convexity = v.InferOutput<typeof ConvexitySchema>;

/** What earlier programs called a convexity, in the solids that they stored. */
const convexityOfJoint = (joint: string | undefined): Convexity =>
  v.parse(ConvexitySchema, joint === 'free' ? 'boundary' : joint === 'knot' ? 'non-manifold' : joint);

export const EdgeSchema = v.pipe(
  v.object({
    id: v.number(),
    curve: v.picklist(['line', 'circle', 'ellipse', 'other']),
    lengthMm: v.number(),
    start: Vec3Schema,
    end: Vec3Schema,
    /** One entry for a boundary edge or a seam, two where faces meet. */
    faceIds: v.pipe(v.array(v.number()), v.readonly()),
    convexity: v.optional(ConvexitySchema),
    /** Of solids that were stored by earlier programs. */
    joint: v.optional(v.picklist(['convex', 'concave', 'smooth', 'seam', 'free', 'knot', 'degenerate'])),
  }),
  v.transform(({ joint, convexity, ...edge }) => ({ ...edge, convexity: convexity ?? convexityOfJoint(joint) })),
);
export type Edge = Readonly<v.InferOutput<typeof EdgeSchema>>;

export const MassPropertiesSchema = v.object({
  volumeMm3: v.number(),
  areaMm2: v.number(),
  centroidMm: Vec3Schema,
  /** True tensor about the centroid for unit density, rows x, y, z. */
  inertiaMm5: v.pipe(v.tuple([Vec3Schema, Vec3Schema, Vec3Schema]), v.readonly()),
});
export type MassProperties = Readonly<v.InferOutput<typeof MassPropertiesSchema>>;

/**
 * What the part would have if its facets were the round surfaces that they stand for, with half widths that cover the
 * error. For exact geometry it repeats the mass properties.
 */
export const EstimateSchema = v.object({
  volumeMm3: v.number(),
  areaMm2: v.number(),
  centroidMm: Vec3Schema,
  volumeUncertaintyMm3: v.number(),
  areaUncertaintyMm2: v.number(),
  centroidUncertaintyMm: v.number(),
});
export type Estimate = Readonly<v.InferOutput<typeof EstimateSchema>>;

/** Triangles for display, grouped by face, and polylines of the edges. */
export const DisplayMeshSchema = v.object({
  positions: v.pipe(v.array(v.number()), v.readonly()),
  indices: v.pipe(v.array(v.number()), v.readonly()),
  groups: v.pipe(v.array(v.object({ faceId: v.number(), start: v.number(), count: v.number() })), v.readonly()),
  edges: v.pipe(
    v.array(
      v.object({
        edgeId: v.number(),
        faceIds: v.pipe(v.array(v.number()), v.readonly()),
        points: v.pipe(v.array(v.number()), v.readonly()),
      }),
    ),
    v.readonly(),
  ),
});
export type DisplayMesh = Readonly<v.InferOutput<typeof DisplayMeshSchema>>;

export const WarningSchema = v.object({ code: v.string(), message: v.string() });
export type Warning = Readonly<v.InferOutput<typeof WarningSchema>>;

/** File formats that are read, and `recipe` for a part that was built here. */
export const MODEL_FORMATS = ['step', 'stl', 'obj', '3mf', 'ply', 'recipe'] as const;
export type ModelFormat = (typeof MODEL_FORMATS)[number];

const StoredSolidSchema = v.object({
  source: v.object({
    format: v.picklist(MODEL_FORMATS),
    /** Unit the file itself states; null when it states none. */
    declaredUnit: v.nullable(LengthUnitSchema),
    productName: v.nullable(v.string()),
    originatingSystem: v.nullable(v.string()),
  }),
  bodies: v.number(),
  valid: v.boolean(),
  closed: v.boolean(),
  /** Of the geometry as it is: for triangles, of the polyhedron. */
  massProperties: MassPropertiesSchema,
  estimate: v.optional(EstimateSchema),
  bounds: BoxSchema,
  faces: v.pipe(v.array(FaceSchema), v.readonly()),
  edges: v.pipe(v.array(EdgeSchema), v.readonly()),
  mesh: DisplayMeshSchema,
  warnings: v.pipe(v.array(WarningSchema), v.readonly()),
});
/** A solid that was stored before there were estimates is exact. */
export const SolidSchema = v.pipe(
  StoredSolidSchema,
  v.transform((solid) => ({ ...solid, estimate: solid.estimate ?? exactEstimate(solid.massProperties) })),
);
export type Solid = Readonly<v.InferOutput<typeof SolidSchema>>;
export type SolidSource = Solid['source'];

/** Where a part comes from that was built here and never was a file. */
export const RECIPE_SOURCE: SolidSource = {
  format: 'recipe',
  declaredUnit: 'mm',
  productName: null,
  originatingSystem: null,
};

/** The estimate of exact geometry: its own mass properties, without doubt. */
export function exactEstimate({ volumeMm3, areaMm2, centroidMm }: MassProperties): Estimate {
  const certain = { volumeUncertaintyMm3: 0, areaUncertaintyMm2: 0, centroidUncertaintyMm: 0 };
  return { volumeMm3, areaMm2, centroidMm, ...certain };
}

/** Coordinates of meshes are kept to a millionth of a mm: finer than the 32-bit numbers they come from. */
export const roundCoordinate = (value: number): number => Math.round(value * 1e6) / 1e6;

/** A display mesh with the few digits that a picture needs, to be sent. */
export const forDisplay = (mesh: DisplayMesh): DisplayMesh => {
  const rounded = (values: readonly number[]): number[] => values.map((value) => Math.round(value * 1e3) / 1e3);
  return {
    ...mesh,
    positions: rounded(mesh.positions),
    edges: mesh.edges.map((edge) => ({ ...edge, points: rounded(edge.points) })),
  };
};
