import type { TopoDS_Shape } from 'replicad-opencascadejs';

import { ProblemError, unwrap } from '#core/problem';
import type { DrawingUnit } from '#core/quantity';
import type { SolidSource, Warning } from '#core/solid';

import { scoped } from './scope.ts';
import { guarded, Shape, subShapes, type Oc } from './shape.ts';
import { readHeader, screenStep } from './step-text.ts';

const PATH = '/exchange.step';

/**
 * Reads a STEP file into a shape in mm, whatever unit it declares. The caller frees the shape.
 * Raises `empty-file`, `not-step`, `truncated-step`, `step-...` (see `screenStep`), `unreadable-step`, `no-geometry`.
 */
export function readStepFile(
  oc: Oc,
  bytes: Uint8Array,
): { readonly shape: Shape; readonly source: SolidSource; readonly warnings: readonly Warning[] } {
  const text = unwrap(screenStep(bytes));
  const header = readHeader(text);
  const warnings: Warning[] = [];
  const shape = guarded(oc, 'unreadable-step', 'The STEP file could not be read. Export the model again.', () =>
    scoped((keep) => {
      oc.FS.writeFile(PATH, bytes);
      try {
        const reader = keep(new oc.STEPControl_Reader(sessionOf(oc), true));
        if (reader.ReadFile(PATH) !== 'IFSelect_RetDone')
          throw new ProblemError(
            'unreadable-step',
            'The STEP file is damaged and cannot be read. Export the model again.',
          );
        warnings.push(...messagesOf(keep(reader.StepModel())));
        reader.TransferRoots();
        // Declared as always there; a file without geometry gives nothing.
        const whole = reader.OneShape() as TopoDS_Shape | null | undefined;
        if (!whole || whole.IsNull()) throw noGeometry();
        return new Shape(whole);
      } finally {
        oc.FS.unlink(PATH);
      }
    }),
  );
  const faces = scoped((keep) => subShapes(oc, shape.raw, 'TopAbs_FACE', keep).length);
  if (faces === 0) {
    shape.free();
    throw text.includes('EXTERNALLY_DEFINED') || /=\s*DOCUMENT_FILE\s*\(/.test(text) ? partsElsewhere() : noGeometry();
  }
  warnings.push(...lossesOf(text, faces));
  return { shape, source: { format: 'step', ...header }, warnings };
}

const sessions = new WeakMap<Oc, ReturnType<InstanceType<Oc['STEPControl_Reader']>['WS']>>();

/** The one reading session of a kernel. Every session keeps its last model for ever, so that there must not be many. */
function sessionOf(oc: Oc) {
  const known = sessions.get(oc);
  if (known !== undefined) return known;
  const reader = new oc.STEPControl_Reader();
  const session = reader.WS();
  reader.delete();
  sessions.set(oc, session);
  return session;
}

/** What the reader itself could not make sense of, entry by entry. */
function messagesOf(model: ReturnType<InstanceType<Oc['STEPControl_Reader']>['StepModel']>): Warning[] {
  const kinds = new Set<string>();
  let count = 0;
  for (let i = 1; i <= model.NbEntities(); i++) {
    if (!model.IsErrorEntity(i)) continue;
    count++;
    if (kinds.size < 3) kinds.add(`#${String(i)}`);
  }
  if (count === 0) return [];
  return [
    {
      code: 'reader-faults',
      message: `The reader found faults in ${String(count)} ${count === 1 ? 'entry' : 'entries'} of the file (${[...kinds].join(', ')}); what hangs on them may be missing. Export the model again.`,
    },
  ];
}

/** Faces that the file lists and the kernel did not build. */
function lossesOf(text: string, faces: number): Warning[] {
  const listed = (text.match(/=\s*(?:ADVANCED_FACE|FACE_SURFACE)\s*\(/g) ?? []).length;
  if (listed <= faces) return [];
  return [
    {
      code: 'faces-lost',
      message: `The file lists ${String(listed)} faces, but only ${String(faces)} could be built. Export the model again.`,
    },
  ];
}

const partsElsewhere = (): ProblemError =>
  new ProblemError(
    'parts-elsewhere',
    'The STEP file only names parts that live in other files. Export the part itself, with its geometry in the same file.',
  );

const noGeometry = (): ProblemError =>
  new ProblemError(
    'no-geometry',
    'The STEP file contains no part geometry. If the part lives in another file, or only sketches were exported, export the solid body itself.',
  );

/** Writes a shape as a STEP file in `unit`. */
export function writeStepFile(oc: Oc, shape: Shape, unit: DrawingUnit, productName: string): Uint8Array {
  return guarded(oc, 'step-export', 'The model could not be written as STEP.', () =>
    scoped((keep) => {
      // The first writer registers the settings, so it comes before they are set.
      const writer = keep(new oc.STEPControl_Writer());
      oc.Interface_Static.SetCVal('write.step.unit', unit === 'in' ? 'INCH' : 'MM');
      oc.Interface_Static.SetCVal('write.step.product.name', productName);
      try {
        writer.Transfer(shape.raw, 'STEPControl_AsIs', true, keep(new oc.Message_ProgressRange()));
        if (writer.Write(PATH) !== 'IFSelect_RetDone')
          throw new ProblemError('step-export', 'The model could not be written as STEP.');
        const bytes = oc.FS.readFile(PATH);
        oc.FS.unlink(PATH);
        return bytes;
      } finally {
        oc.Interface_Static.SetCVal('write.step.unit', 'MM');
      }
    }),
  );
}
