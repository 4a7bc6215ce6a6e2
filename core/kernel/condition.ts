/** What is odd about a shape, told from its own faces before needless seams are joined. */
import type { TopoDS_Shape } from 'replicad-opencascadejs';

import type { Edge, Face, Warning } from '#core/solid';
import { ARITHMETIC_MM } from '#core/tolerance';
import { boxDiagonal, cross, dot, length, normalize, subtract, type Box, type Vec3 } from '#core/vector';

import { scoped } from './scope.ts';
import { take, type Oc } from './shape.ts';
import { topologyOf, type Topology } from './topology.ts';

/** Faces narrower than this share of the part are slivers. */
const SLIVER_SHARE = 2e-4;
const SLIVER_MM = 0.02;
/** Edges shorter than this, in mm and as a share of the part. */
const TINY_EDGE_MM = 1e-3;
const TINY_EDGE_SHARE = 2e-5;

const count = (n: number, one: string, many: string): string => (n === 1 ? `One ${one}` : `${String(n)} ${many}`);

/**
 * Number of edges at which one flat face is cut in two, or one round face in more than two. Two halves of a cylinder
 * are left out: many programs write every cylinder so.
 */
export function needlessEdges(oc: Oc, shape: TopoDS_Shape): number {
  return scoped((keep) => {
    const topology = topologyOf(oc, shape, keep);
    const kinds = topology.faces.map((face) => keep(new oc.BRepAdaptor_Surface(face, true)));
    const planes = kinds.map((adaptor): { origin: Vec3; normal: Vec3 } | null => {
      if (adaptor.GetType() !== 'GeomAbs_Plane') return null;
      const plane = keep(adaptor.Plane());
      const axis = keep(plane.Axis());
      return { origin: take(axis.Location()), normal: normalize(take(axis.Direction())) };
    });
    let found = 0;
    for (const [a, b] of topology.uses) {
      if (!a || !b || a.faceId === b.faceId) continue;
      const [p, q] = [planes[a.faceId], planes[b.faceId]];
      if (!p || !q) continue;
      const flush = Math.abs(dot(subtract(q.origin, p.origin), p.normal)) < ARITHMETIC_MM;
      const same = topology.faces[a.faceId]?.Orientation() === topology.faces[b.faceId]?.Orientation();
      const cosine = dot(p.normal, q.normal);
      if (flush && length(cross(p.normal, q.normal)) < 1e-9 && (same ? cosine > 0 : cosine < 0)) found++;
    }
    return found;
  });
}

/** Faces of the shape that belong to no solid. */
export const looseFaces = (topology: Topology): number => topology.bodyOf.filter((body) => body < 0).length;

interface Condition {
  readonly bodies: number;
  readonly valid: boolean;
  readonly closed: boolean;
  readonly inverted: boolean;
  readonly loose: number;
  readonly needless: number;
  readonly faces: readonly Face[];
  readonly edges: readonly Edge[];
  readonly bounds: Box;
}

/** Warnings about a shape, each with a code and what to do. */
export function warningsAbout(condition: Condition): Warning[] {
  const { bodies, valid, closed, inverted, loose, needless, faces, edges, bounds } = condition;
  const diagonal = boxDiagonal(bounds);
  const warnings: Warning[] = [];
  const warn = (code: string, message: string): void => {
    warnings.push({ code, message });
  };
  if (bodies === 0) warn('no-solid', 'The file holds surfaces but no solid body; a closed solid is wanted.');
  if (bodies > 1) warn('several-bodies', `The model is ${String(bodies)} separate bodies; merge them into one.`);
  if (bodies > 0 && loose > 0)
    warn(
      'loose-surfaces',
      `${count(loose, 'surface belongs', 'surfaces belong')} to no solid body. Delete what is left over from building, or close it to a solid.`,
    );
  if (bodies > 0 && !closed) warn('not-closed', 'The surface of the body is not closed.');
  if (inverted) warn('inverted', 'The body was inside out and was turned. Check the export.');
  if (!valid) warn('invalid-geometry', 'The kernel finds faults in the geometry of this model.');
  if (needless > 0)
    warn(
      'split-faces',
      `${count(needless, 'edge divides', 'edges divide')} faces that lie in one plane: a seam shows where one face is wanted. Merge the features or draw the outline in one piece.`,
    );
  const perimeter = (face: Face): number => face.edgeIds.reduce((sum, id) => sum + (edges[id]?.lengthMm ?? 0), 0);
  const slivers = faces.filter((face) => {
    const around = perimeter(face);
    const width = around > 0 ? (2 * face.areaMm2) / around : Infinity;
    return width < Math.min(SLIVER_MM, SLIVER_SHARE * diagonal);
  }).length;
  if (slivers > 0)
    warn(
      'sliver-faces',
      `${count(slivers, 'face is', 'faces are')} extremely narrow: two faces that should be flush are a hair apart.`,
    );
  const tiny = edges.filter(
    (edge) => edge.convexity !== 'degenerate' && edge.lengthMm < Math.min(TINY_EDGE_MM, TINY_EDGE_SHARE * diagonal),
  ).length;
  if (tiny > 0)
    warn(
      'tiny-edges',
      `${count(tiny, 'edge is', 'edges are')} shorter than ${String(TINY_EDGE_MM)} mm: sizes that should agree differ by a hair.`,
    );
  return warnings;
}
