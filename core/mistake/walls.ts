/** Corners of a drawn outline that lie on one straight line along it: whoever takes a size wrong moves all of them. */
import { getIn, type Step } from '#core/recipe';

import type { Path } from './edit.ts';
import type { NumericArgument } from './numeric-arguments.ts';

export interface Wall {
  /** The same coordinate of each of its corners, in their order; the argument that was asked for is one of them. */
  readonly corners: readonly NumericArgument[];
  /** The name of the line in the outline, where it has one. */
  readonly name: string | null;
  /** Whether the coordinate is a radius of a turned part: half of what a sheet gives. */
  readonly isRadius: boolean;
}

interface Corner {
  readonly outline: Path;
  /** Its place in the path, from 0. */
  readonly number: number;
  /** 0 across, 1 up. */
  readonly coordinate: number;
}

/** Where in a path a number stands; null where it is no corner of one. */
function cornerOf(path: Path): Corner | null {
  const coordinate = path.at(-1);
  if (coordinate !== 0 && coordinate !== 1) return null;
  if (path.at(-2) === 'start') return { outline: path.slice(0, -2), number: 0, coordinate };
  const segment = path.at(-3);
  return path.at(-2) === 'to' && path.at(-4) === 'segments' && typeof segment === 'number'
    ? { outline: path.slice(0, -4), number: segment + 1, coordinate }
    : null;
}

const isSamePath = (a: Path, b: Path): boolean => a.join('/') === b.join('/');

/** The same coordinate of all corners of the path that one of them belongs to. */
export function sameCoordinates(own: NumericArgument, all: readonly NumericArgument[]): readonly NumericArgument[] {
  const corner = cornerOf(own.path);
  return corner === null
    ? []
    : all.filter((argument) => {
        const other = argument.stepId === own.stepId ? cornerOf(argument.path) : null;
        return other?.coordinate === corner.coordinate && isSamePath(other.outline, corner.outline);
      });
}

/** The wall that a corner of a path lies on, with the corners beside it that have the same coordinate; null for no corner. */
export function wallOf(step: Step, own: NumericArgument, all: readonly NumericArgument[]): Wall | null {
  const corner = cornerOf(own.path);
  if (corner === null) return null;
  const { outline, coordinate } = corner;
  const row = sameCoordinates(own, all);
  const at = (number: number): NumericArgument | undefined => row.find(({ path }) => cornerOf(path)?.number === number);
  const isOnWall = (number: number): boolean => {
    const other = at(number);
    return other !== undefined && Math.abs(other.value - own.value) < 1e-9;
  };
  let [first, last] = [corner.number, corner.number];
  while (isOnWall(first - 1)) first--;
  while (isOnWall(last + 1)) last++;
  const name = getIn(step, [...outline, 'segments', first, 'name']);
  return {
    corners: Array.from({ length: last - first + 1 }, (_, i) => at(first + i)).flatMap((one) => one ?? []),
    name: last > first && typeof name === 'string' ? name : null,
    isRadius: step.op === 'revolve' && step.axis === (coordinate === 1 ? 'u' : 'v'),
  };
}
