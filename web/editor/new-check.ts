import type { Check, Exercise } from '#core/exercise';
import { formatFixed } from '#core/quantity';

/** Checks that are made by picking surfaces in the part. */
export const PICKABLE = {
  distance: { label: 'distance between two flat surfaces', surfaces: 2 },
  thickness: { label: 'thickness of a wall', surfaces: 2 },
  diameter: { label: 'diameter', surfaces: 1 },
  radius: { label: 'radius', surfaces: 1 },
  'hole-position': { label: 'hole, then surface it is measured from', surfaces: 2 },
  'center-distance': { label: 'distance of two axes', surfaces: 2 },
  angle: { label: 'angle between two surfaces', surfaces: 2 },
  concentric: { label: 'two rounds on one axis', surfaces: 2 },
  flush: { label: 'two surfaces flush', surfaces: 2 },
  presence: { label: 'feature is there', surfaces: 1 },
} as const satisfies Partial<Record<Check['kind'], { readonly label: string; readonly surfaces: 1 | 2 }>>;
export type PickableKind = keyof typeof PICKABLE;

/** A new check on picked surfaces. Its nominal is to be typed; the live value says what the part has. */
export function checkFromFaces(
  kind: PickableKind,
  [first = '', second = '']: readonly string[],
  exercise: Exercise,
): Check {
  const taken = new Set(exercise.checks.map(({ id }) => id));
  let n = 1;
  while (taken.has(`${kind}-${String(n)}`)) n++;
  const { decimals } = exercise;
  const common = { id: `${kind}-${String(n)}`, label: `${PICKABLE[kind].label} ${String(n)}`.slice(0, 80), weight: 5 };
  const tolerance = formatFixed(0.5 * 10 ** -decimals, decimals + 1);
  const sized = { ...common, nominal: '10', tolerance };
  switch (kind) {
    case 'distance':
    case 'thickness':
    case 'center-distance':
      return { ...sized, kind, from: first, to: second };
    case 'angle':
      return { ...sized, kind, nominal: '90', tolerance: '0.5', from: first, to: second };
    case 'diameter':
    case 'radius':
      return { ...sized, kind, of: [first] };
    case 'hole-position':
      return { ...sized, kind, of: first, from: second };
    case 'concentric':
    case 'flush':
      return { ...common, kind, tolerance, from: first, to: second };
    case 'presence':
      return { ...common, kind, of: first };
  }
}
