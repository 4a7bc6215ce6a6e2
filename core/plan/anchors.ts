import { facesOn, type NamedSurfaces } from '#core/recipe';
import type { Cylinder, Plane, Solid, Surface } from '#core/solid';

/** A named surface that is on the finished part. */
export interface Anchor<S extends Surface = Surface> {
  readonly name: string;
  readonly surface: S;
  readonly faceIds: readonly number[];
}

/** The named surfaces that are left on a solid; of two names for the same faces, the first. */
export function anchorsOf(solid: Solid, surfaces: NamedSurfaces): readonly Anchor[] {
  const taken = new Set<number>();
  const anchors: Anchor[] = [];
  for (const [name, surface] of surfaces) {
    const faceIds = facesOn(solid.faces, surface).filter((id) => !taken.has(id));
    if (faceIds.length === 0) continue;
    for (const id of faceIds) taken.add(id);
    anchors.push({ name, surface, faceIds });
  }
  return anchors;
}

/** The first name of a face; null for a face that no step names. */
export const nameOfFace = (anchors: readonly Anchor[], faceId: number): string | null =>
  anchors.find(({ faceIds }) => faceIds.includes(faceId))?.name ?? null;

/** The flat ones among named surfaces. */
export const planesOf = (anchors: readonly Anchor[]): readonly Anchor<Plane>[] =>
  anchors.filter((anchor): anchor is Anchor<Plane> => anchor.surface.kind === 'plane');

/** The cylinders among named surfaces. */
export const cylindersOf = (anchors: readonly Anchor[]): readonly Anchor<Cylinder>[] =>
  anchors.filter((anchor): anchor is Anchor<Cylinder> => anchor.surface.kind === 'cylinder');
