/** The one analyzed form of any model: plain data that can be stored and sent. Lengths in mm, angles in rad. */
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

export const FaceSchema = v.object({
  id: v.number(),
  surface: SurfaceSchema,
  areaMm2: v.number(),
  centroid: Vec3Schema,
  bounds: BoxSchema,
  edgeIds: v.pipe(v.array(v.number()), v.readonly()),
});
export type Face = Readonly<v.InferOutput<typeof FaceSchema>>;

export const EdgeSchema = v.object({
  id: v.number(),
  curve: v.picklist(['line', 'circle', 'ellipse', 'other']),
  lengthMm: v.number(),
  start: Vec3Schema,
  end: Vec3Schema,
  /** One entry for a free edge or a seam, two where faces meet. */
  faceIds: v.pipe(v.array(v.number()), v.readonly()),
  /** How the two faces meet; `seam` joins a face with itself, `free` has one face, `knot` more than two. */
  joint: v.picklist(['convex', 'concave', 'smooth', 'seam', 'free', 'knot', 'degenerate']),
});
export type Edge = Readonly<v.InferOutput<typeof EdgeSchema>>;

export const MassPropertiesSchema = v.object({
  volumeMm3: v.number(),
  areaMm2: v.number(),
  centroidMm: Vec3Schema,
  /** True tensor about the centroid for unit density, rows x, y, z. */
  inertiaMm5: v.pipe(v.tuple([Vec3Schema, Vec3Schema, Vec3Schema]), v.readonly()),
});
export type MassProperties = Readonly<v.InferOutput<typeof MassPropertiesSchema>>;

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

export const SolidSchema = v.object({
  source: v.object({
    format: v.picklist(['step', 'recipe']),
    declaredUnit: v.nullable(LengthUnitSchema),
    productName: v.nullable(v.string()),
    originatingSystem: v.nullable(v.string()),
  }),
  bodies: v.number(),
  valid: v.boolean(),
  closed: v.boolean(),
  massProperties: MassPropertiesSchema,
  bounds: BoxSchema,
  faces: v.pipe(v.array(FaceSchema), v.readonly()),
  edges: v.pipe(v.array(EdgeSchema), v.readonly()),
  mesh: DisplayMeshSchema,
  warnings: v.pipe(v.array(WarningSchema), v.readonly()),
});
export type Solid = Readonly<v.InferOutput<typeof SolidSchema>>;
export type SolidSource = Solid['source'];
