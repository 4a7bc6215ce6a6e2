import { createContext, useContext, useMemo, type ComponentType } from 'react';

import type { Outline } from '#core/outline';
import type { Exercise } from '#core/exercise';
import { evaluateParameters, type DrawingUnit, type Scope } from '#core/quantity';

export interface OutlineFormProps {
  readonly value: Outline;
  /** Tells this outline apart from others of the step. */
  readonly where: string;
  readonly onChange: (value: Outline) => void;
  readonly onRemove?: (() => void) | undefined;
}

/** What expressions are evaluated with. */
export interface Values {
  readonly unit: DrawingUnit;
  readonly decimals: number;
  /** Values of the letters; null while they cannot be evaluated. */
  readonly scope: Scope | null;
}

export const ValuesProvider = createContext<Values | null>(null);

export function useValues(): Values {
  const values = useContext(ValuesProvider);
  if (values === null) throw new Error('an expression outside of an editor');
  return values;
}

/** What the expressions of an exercise are evaluated with, for `ValuesProvider`. */
export function useValuesOf({ decimals, recipe: { parameters, unit } }: Exercise): Values {
  return useMemo(() => {
    const scope = evaluateParameters(parameters, unit);
    return { unit, decimals, scope: scope.ok ? scope.value : null };
  }, [parameters, unit, decimals]);
}

/** What the fields of a form know of the part around them. */
export interface FormContext {
  /** Names of surfaces that are on the part at this step. */
  readonly surfaces: readonly string[];
  readonly stepIds: readonly string[];
  readonly planeIds: readonly string[];
  readonly axisIds: readonly string[];
  /** The field that waits for surfaces to be picked in the part; null when none does. */
  readonly picking: string | null;
  /** Lets the next surfaces that are picked in the part fill a field. */
  readonly pick: (fieldId: string, count: number, onPicked: (names: readonly string[]) => void) => void;
  /** The outline that the plane view shows. */
  readonly shownOutline: string | null;
  readonly showOutline: (key: string) => void;
  /** The form of an outline; forms of outlines hold fields, and fields hold outlines. */
  readonly OutlineForm: ComponentType<OutlineFormProps>;
}

export const FormContextProvider = createContext<FormContext | null>(null);

export function useForm(): FormContext {
  const context = useContext(FormContextProvider);
  if (context === null) throw new Error('a form field outside of an editor');
  return context;
}
