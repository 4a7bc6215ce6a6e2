import type { Solid } from '#core/solid';
import { cross, dot, normalize, subtract, type Vec2, type Vec3 } from '#core/vector';

/** Edges of triangles as seen from one side, in view coordinates, mm. */
export interface MeshProjection {
  readonly visible: readonly { readonly points: readonly Vec2[] }[];
  readonly hidden: readonly { readonly points: readonly Vec2[] }[];
}

/** A straight piece is looked at in so many parts, which may be seen or hidden each for itself. */
const PARTS = 40;
/** Cells along each side of the grid that finds the triangles over a point. */
const CELLS = 64;

interface Seen {
  readonly at: Vec2;
  readonly depth: number;
}

/**
 * Hidden-line projection of triangles: the sharp edges between the surfaces that were found in them, and the
 * outlines of round ones, where neighbors of one surface look to different sides.
 */
export function projectMesh(
  { mesh, bounds, edges }: Pick<Solid, 'mesh' | 'bounds' | 'edges'>,
  view: { readonly toViewer: Vec3; readonly right: Vec3 },
): MeshProjection {
  const toViewer = normalize(view.toViewer);
  const right = normalize(view.right);
  const up = cross(toViewer, right);
  const place = (p: Vec3): Seen => ({ at: [dot(p, right), dot(p, up)], depth: dot(p, toViewer) });
  const vertex = (i: number): Vec3 => [
    mesh.positions[3 * i] ?? 0,
    mesh.positions[3 * i + 1] ?? 0,
    mesh.positions[3 * i + 2] ?? 0,
  ];
  const triangles = Array.from({ length: mesh.indices.length / 3 }, (_, t) => {
    const corners = [0, 1, 2].map((i) => vertex(mesh.indices[3 * t + i] ?? 0)) as [Vec3, Vec3, Vec3];
    return { corners, seen: corners.map(place) as [Seen, Seen, Seen] };
  });
  const covers = coverOf(triangles.map(({ seen }) => seen));
  const slackMm = 1e-4 * Math.hypot(...subtract(bounds.max, bounds.min)) + 1e-3;

  const out: { visible: { points: Vec2[] }[]; hidden: { points: Vec2[] }[] } = { visible: [], hidden: [] };
  const trace = (points: readonly Vec3[]): void => {
    let layer: 'visible' | 'hidden' | null = null;
    let run: Vec2[] = [];
    const flush = (): void => {
      if (layer !== null && run.length > 1) out[layer].push({ points: run });
    };
    points.slice(1).forEach((to, i) => {
      const from = points[i] ?? to;
      // A chord of a round edge is one piece, so that its points stay on the circle.
      const parts = points.length === 2 ? PARTS : 1;
      for (let k = 0; k < parts; k++) {
        const [a, middle, b] = [k, k + 0.5, k + 1].map((s) => place(between(from, to, s / parts)));
        if (!a || !middle || !b) continue;
        const now = covers(middle.at, middle.depth + slackMm) ? 'hidden' : 'visible';
        if (now !== layer) {
          flush();
          run = [a.at];
          layer = now;
        }
        run.push(b.at);
      }
    });
    flush();
  };
  for (const { edgeId, points } of mesh.edges) {
    const joint = edges[edgeId]?.joint;
    if (joint === 'smooth' || joint === 'seam') continue;
    trace(
      Array.from({ length: points.length / 3 }, (_, i) => [
        points[3 * i] ?? 0,
        points[3 * i + 1] ?? 0,
        points[3 * i + 2] ?? 0,
      ]),
    );
  }
  for (const edge of outlines(mesh, triangles, toViewer)) trace(edge);
  return out;
}

const between = (a: Vec3, b: Vec3, share: number): Vec3 => [
  a[0] + (b[0] - a[0]) * share,
  a[1] + (b[1] - a[1]) * share,
  a[2] + (b[2] - a[2]) * share,
];

/** Edges inside one surface where one triangle looks to the viewer and its neighbor does not. */
function outlines(
  mesh: Solid['mesh'],
  triangles: readonly { readonly corners: readonly [Vec3, Vec3, Vec3] }[],
  toViewer: Vec3,
): [Vec3, Vec3][] {
  const found: [Vec3, Vec3][] = [];
  for (const { start, count } of mesh.groups) {
    const facing = new Map<string, boolean>();
    for (let t = start / 3; t < (start + count) / 3; t++) {
      const corners = triangles[t]?.corners;
      if (!corners) continue;
      const normal = cross(subtract(corners[1], corners[0]), subtract(corners[2], corners[0]));
      const towards = dot(normal, toViewer) > 1e-9 * Math.hypot(...normal);
      for (let i = 0; i < 3; i++) {
        const [a, b] = [corners[i], corners[(i + 1) % 3]];
        if (!a || !b) continue;
        const key = [keyOf(a), keyOf(b)].sort().join(' ');
        const other = facing.get(key);
        if (other === undefined) facing.set(key, towards);
        else if (other !== towards) found.push([a, b]);
      }
    }
  }
  return found;
}

const keyOf = (p: Vec3): string => p.map((value) => Math.round(value * 1e5)).join(',');

/** Tells whether some triangle lies over a point of the view and nearer to the viewer than a depth. */
function coverOf(triangles: readonly (readonly [Seen, Seen, Seen])[]): (at: Vec2, depth: number) => boolean {
  const all = triangles.flat();
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { at } of all) {
    minX = Math.min(minX, at[0]);
    maxX = Math.max(maxX, at[0]);
    minY = Math.min(minY, at[1]);
    maxY = Math.max(maxY, at[1]);
  }
  const cell = (value: number, min: number, max: number): number =>
    Math.min(CELLS - 1, Math.max(0, Math.floor(((value - min) / Math.max(1e-9, max - min)) * CELLS)));
  const grid = Array.from({ length: CELLS * CELLS }, (): number[] => []);
  triangles.forEach((triangle, t) => {
    const xs = triangle.map(({ at }) => cell(at[0], minX, maxX));
    const ys = triangle.map(({ at }) => cell(at[1], minY, maxY));
    for (let y = Math.min(...ys); y <= Math.max(...ys); y++)
      for (let x = Math.min(...xs); x <= Math.max(...xs); x++) grid[y * CELLS + x]?.push(t);
  });
  return (at, depth) =>
    (grid[cell(at[1], minY, maxY) * CELLS + cell(at[0], minX, maxX)] ?? []).some((t) => {
      const triangle = triangles[t];
      const over = triangle && depthAt(triangle, at);
      return over !== undefined && over !== null && over > depth;
    });
}

/** Depth of a triangle over a point of the view; null beside it and for one that is seen edge-on. */
function depthAt([a, b, c]: readonly [Seen, Seen, Seen], at: Vec2): number | null {
  const area = (b.at[0] - a.at[0]) * (c.at[1] - a.at[1]) - (b.at[1] - a.at[1]) * (c.at[0] - a.at[0]);
  if (Math.abs(area) < 1e-9) return null;
  const v = ((at[0] - a.at[0]) * (c.at[1] - a.at[1]) - (at[1] - a.at[1]) * (c.at[0] - a.at[0])) / area;
  const w = ((b.at[0] - a.at[0]) * (at[1] - a.at[1]) - (b.at[1] - a.at[1]) * (at[0] - a.at[0])) / area;
  return v < 1e-6 || w < 1e-6 || v + w > 1 - 1e-6 ? null : a.depth + v * (b.depth - a.depth) + w * (c.depth - a.depth);
}
