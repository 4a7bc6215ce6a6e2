import { useState } from 'react';

/** Surfaces that a field of a form asks to be picked in the part. */
export interface SurfacePicking {
  /** The field that asks, null while none does. */
  readonly fieldId: string | null;
  /** Names of the surfaces that were picked so far. */
  readonly names: readonly string[];
  /** How many are still to be picked. */
  readonly left: number;
  /** Begins picking for a field, or stops where the field asked already. */
  readonly start: (fieldId: string, count: number, onPicked: (names: readonly string[]) => void) => void;
  /** Takes a surface; the last one ends the picking. */
  readonly add: (name: string) => void;
  readonly stop: () => void;
}

interface Asked {
  readonly fieldId: string;
  readonly count: number;
  readonly names: readonly string[];
  readonly onPicked: (names: readonly string[]) => void;
}

const NO_NAMES: readonly string[] = [];

export function usePicking(): SurfacePicking {
  const [asked, setAsked] = useState<Asked | null>(null);
  return {
    fieldId: asked?.fieldId ?? null,
    names: asked?.names ?? NO_NAMES,
    left: asked === null ? 0 : asked.count - asked.names.length,
    start: (fieldId, count, onPicked) => {
      setAsked(asked?.fieldId === fieldId ? null : { fieldId, count, names: [], onPicked });
    },
    add: (name) => {
      if (asked === null) return;
      const names = [...asked.names, name];
      if (names.length < asked.count) setAsked({ ...asked, names });
      else {
        asked.onPicked(names);
        setAsked(null);
      }
    },
    stop: () => {
      setAsked(null);
    },
  };
}

/** The faces one of whose surfaces has a name that is asked for. */
export const facesNamed = (
  namesOfFace: readonly (readonly string[])[] | undefined,
  wanted: (name: string) => boolean,
): ReadonlySet<number> => new Set((namesOfFace ?? []).flatMap((names, face) => (names.some(wanted) ? [face] : [])));
