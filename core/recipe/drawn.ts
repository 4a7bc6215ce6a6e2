import { evaluateOutline, type Named, type Outline, type Region } from '#core/outline';

import type { Context } from './context.ts';
import type { Mode } from './entries.ts';
import { reversed } from './surfaces.ts';

/** The closed regions that an outline encloses, mm. */
export const regionsOf = (outline: Outline, { values, kernel }: Context): readonly Region[] =>
  evaluateOutline(outline, values, kernel);

/** Surfaces of what is added, or of what is left when it is cut. */
export const faced = (mode: Mode, surfaces: readonly Named[]): readonly Named[] =>
  mode === 'add' ? surfaces : surfaces.map(([role, surface]) => [role, reversed(surface)]);

/** Room between a tool and a face that it starts on, so that no skin is left where both coincide. */
export const CLEARANCE_MM = 1;
