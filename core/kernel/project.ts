import type { TopoDS_Edge, TopoDS_Shape } from 'replicad-opencascadejs';

import type { Vec2, Vec3 } from '#core/vector';

import { scoped, type Keep } from './scope.ts';
import { guarded, subShapes, take, type Oc, type Shape } from './shape.ts';

/** A curve of a projected view in view coordinates, mm: the samples of the edge in order. */
export interface ProjectedCurve {
  readonly points: readonly Vec2[];
}

/** Edges of a body as seen from one side, before doubled lines are removed. */
export interface Projection {
  readonly visible: readonly ProjectedCurve[];
  readonly hidden: readonly ProjectedCurve[];
}

/** `toViewer` points from the part to the eye, `right` to the right on the sheet. */
export interface ViewDirection {
  readonly toViewer: Vec3;
  readonly right: Vec3;
}

const SAMPLES = 24;

/** Hidden-line projection of a shape. */
export function projectShape(oc: Oc, shape: Shape, view: ViewDirection): Projection {
  return guarded(oc, 'projection', 'The view could not be projected.', () =>
    scoped((keep) => {
      const frame = keep(
        new oc.gp_Ax2(
          keep(new oc.gp_Pnt(0, 0, 0)),
          keep(new oc.gp_Dir(...view.toViewer)),
          keep(new oc.gp_Dir(...view.right)),
        ),
      );
      const hiding = keep(new oc.HLRBRep_Algo());
      hiding.Add(shape.raw, 0);
      hiding.Projector(keep(new oc.HLRAlgo_Projector(frame)));
      hiding.Update();
      hiding.Hide();
      const result = keep(new oc.HLRBRep_HLRToShape(hiding));
      const read = (compounds: readonly (TopoDS_Shape | null)[]) =>
        compounds.flatMap((compound) => (compound === null ? [] : curvesOf(oc, keep(compound), keep)));
      return {
        visible: read([result.VCompound(), result.OutLineVCompound()]),
        hidden: read([result.HCompound(), result.OutLineHCompound()]),
      };
    }),
  );
}

function curvesOf(oc: Oc, compound: TopoDS_Shape, keep: Keep): ProjectedCurve[] {
  if (compound.IsNull()) return [];
  oc.BRepLib.BuildCurves3d(compound);
  return subShapes(oc, compound, 'TopAbs_EDGE', keep).map((edge) => sample(oc, keep(oc.TopoDS.Edge(edge))));
}

function sample(oc: Oc, edge: TopoDS_Edge): ProjectedCurve {
  return scoped((keep) => {
    const curve = keep(new oc.BRepAdaptor_Curve(edge));
    const from = curve.FirstParameter();
    const to = curve.LastParameter();
    const count = curve.GetType() === 'GeomAbs_Line' ? 1 : SAMPLES;
    const points: Vec2[] = [];
    for (let i = 0; i <= count; i++) {
      const [x, y] = take(curve.EvalD0(from + ((to - from) * i) / count));
      points.push([x, y]);
    }
    return { points };
  });
}
