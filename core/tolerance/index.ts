/**
 * Every geometric tolerance of the program: one name, one unit, one reason, one place. Sizes of checks have tolerances of
 * their own, which the check plan gives; these here decide what counts as the same place, direction or size.
 */

const degrees = (angle: number): number => (angle * Math.PI) / 180;

// ---- directions

/** Surfaces of a submission count as parallel up to half a degree: more is an error that a check tells. */
export const MEASURED_PARALLEL_SINE = Math.sin(degrees(0.5));

/** Two surfaces of a part that was built from one recipe are parallel when arithmetic alone parts them. */
export const BUILT_PARALLEL_SINE = 1e-6;

/** Surfaces that were fitted through the corners of facets, or laid onto each other, lean by up to a milliradian. */
export const FITTED_PARALLEL_SINE = 1e-3;

/** Two planes that lean less than this have no line in common that double precision can tell. */
export const NO_MEETING_SINE = 1e-9;

/** Two unit vectors are one direction when their product is above this: they are then less than 4.5e-5 apart. */
export const SAME_DIRECTION_COSINE = 1 - 1e-9;

/** A flat face lies across the end of a part when it leans by less than this: five times what triangles make of it. */
export const FLAT_ON_END_SINE = 1e-4;

// ---- places and sizes

/** What arithmetic leaves on a part of some meters, ten times the tolerance that the kernel builds with (1e-7 mm). */
export const ARITHMETIC_MM = 1e-6;

/** Ends of curves of one outline are joined when they are this near: STEP files write six decimals. */
export const JOINED_MM = 1e-5;

/** Two places on a part are one place when they are nearer than a thousandth of a mm: no drawing says less. */
export const SAME_PLACE_MM = 1e-3;

/** Two sizes of the reference are one size, as those of holes made by one step. */
export const SAME_SIZE_MM = 1e-4;

/** A hole of a submission belongs to a size when its diameter is right to this much: drills come in tenths. */
export const SAME_DRILL_MM = 0.02;
