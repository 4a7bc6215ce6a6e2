/**
 * Every geometric tolerance of the program: one name, one unit, one reason, one place. Sizes of checks have tolerances of
 * their own, which the check plan gives; these here decide what counts as the same place, direction or size.
 */

const degrees = (angle: number): number => (angle * Math.PI) / 180;

// ---- directions

/** Surfaces of a submission count as parallel up to half a degree: more is an error that a check tells. */
export const MEASURED_PARALLEL_SINE = Math.sin(degrees(0.5));

/** A flat face lies across the end of a part when it leans by less than this: five times what triangles make of it. */
export const FLAT_ON_END_SINE = 1e-4;

// ---- places and sizes

/** Two places on a part are one place when they are nearer than a thousandth of a mm: no drawing says less. */
export const AT_END_MM = 1e-3;

/** Two sizes of the reference are one size, as those of holes made by one step. */
export const SAME_SIZE_MM = 1e-4;

/** A hole of a submission belongs to a size when its diameter is right to this much: drills come in tenths. */
export const SAME_DRILL_MM = 0.02;
