import type { Kernel } from '#core/kernel';
import { extentsOf, guessUnit, polyhedronProperties, solidOfMesh, trianglesOf, type MeshFile } from '#core/mesh';
import type { Overlayer } from '#core/overlay';
import { attempt, ProblemError, unwrap, type Result } from '#core/problem';
import { LENGTH_UNITS, type LengthUnit } from '#core/quantity';
import type { Solid, Warning } from '#core/solid';
import { boxDiagonal, boxSize, length } from '#core/vector';

import { detectFormat, formatNames, formatOf, formatOfName, type FileFormat } from './formats.ts';
import type { Stage } from './stage.ts';

export interface ReadOptions {
  readonly fileName?: string | undefined;
  /** What the student says the numbers of a file without unit are in. */
  readonly unit?: LengthUnit | undefined;
  /** Size of the reference, for guessing the unit of a file that has none. */
  readonly expectedSizeMm?: number | undefined;
  /** Compares solids in 3D: whether bodies overlap, and what is missing and extra; without it that is not said. */
  readonly overlayer?: Overlayer | undefined;
  readonly onStage?: ((stage: Stage) => void) | undefined;
}

/**
 * Reads a model file of any format as the analyzed form. Refuses with `empty-file`, `unknown-format`, and the problems
 * of the readers.
 */
export function readModel(kernel: Kernel, bytes: Uint8Array, options: ReadOptions = {}): Result<Solid> {
  return attempt(() => {
    const { fileName = '', onStage = () => undefined } = options;
    onStage('reading');
    if (bytes.length === 0)
      throw new ProblemError('empty-file', 'The file is empty. Export the model again and hand in the new file.');
    const format = detectFormat(bytes, fileName);
    if (format === null)
      throw new ProblemError(
        'unknown-format',
        `This is not a model file that can be read. Export the solid body as ${formatNames()}.`,
      );
    const { reader } = formatOf(format);
    const solid =
      reader.by === 'kernel'
        ? readStepSolid(kernel, bytes, onStage)
        : readMeshSolid(reader.read(bytes), format, options, onStage);
    const warnings = [
      ...solid.warnings,
      ...overlapWarning(solid, options.overlayer),
      ...nameWarning(fileName, format),
      ...sizeWarning(solid, options.expectedSizeMm),
    ];
    return { ...solid, warnings };
  });
}

/** Bodies that share less than this only touch. */
const OVERLAP_MM3 = 0.5;

function overlapWarning(solid: Solid, overlayer: Overlayer | undefined): Warning[] {
  const shared = overlayer && solid.bodies > 1 ? overlayer.sharedVolume(solid) : null;
  if (!shared?.ok || shared.value <= OVERLAP_MM3) return [];
  const message = `The bodies of the model overlap: ${shared.value.toPrecision(3)} mm³ are counted more than once in its volume. Merge them into one body.`;
  return [{ code: 'overlapping-bodies', message }];
}

function nameWarning(fileName: string, format: FileFormat): Warning[] {
  const named = formatOfName(fileName);
  if (named === null || named === format) return [];
  const message = `The file is named as ${formatOf(named).name} but holds ${formatOf(format).name}; it was read as ${formatOf(format).name}.`;
  return [{ code: 'wrong-extension', message }];
}

/** A size that fits another unit better than its own is worth a word. */
function sizeWarning(solid: Solid, expectedSizeMm: number | undefined): Warning[] {
  const size = boxDiagonal(solid.bounds);
  if (!(size > 0)) return [];
  if (expectedSizeMm === undefined) {
    if (size >= 0.5 && size <= 5000) return [];
    const message = `The part is ${size < 0.5 ? 'smaller' : 'larger'} than usual (${size.toPrecision(3)} mm over all). Check the unit of the export.`;
    return [{ code: 'unit-suspicious', message }];
  }
  const factors: readonly (readonly [number, string])[] = [
    [25.4, 'inches where millimeters were meant'],
    [1 / 25.4, 'millimeters where inches were meant'],
    [10, 'centimeters where millimeters were meant'],
    [0.1, 'millimeters where centimeters were meant'],
    [1000, 'meters where millimeters were meant'],
    [0.001, 'millimeters where meters were meant'],
  ];
  const found = factors.find(([factor]) => Math.abs(Math.log(size / (expectedSizeMm * factor))) < 0.12);
  if (found === undefined) return [];
  const message = `The size of the part fits another unit: it looks like ${found[1]}.`;
  return [{ code: 'unit-suspicious', message }];
}

function readStepSolid(kernel: Kernel, bytes: Uint8Array, onStage: (stage: Stage) => void): Solid {
  const { shape, source, warnings } = unwrap(kernel.readStep(bytes));
  try {
    onStage('measuring');
    const solid = unwrap(kernel.analyze(shape, source));
    return { ...solid, warnings: [...warnings, ...solid.warnings, ...crossCheck(solid)] };
  } finally {
    shape.free();
  }
}

/** Largest share by which the volume of the triangles may differ from that of the exact surfaces. */
const CROSS_CHECK_SHARE = 0.01;

/** The volume is integrated over the exact surfaces; the triangles are an independent witness. */
function crossCheck(solid: Solid): Warning[] {
  if (!solid.closed || solid.mesh.groups.length < solid.faces.length) return [];
  const { volumeMm3 } = polyhedronProperties(trianglesOf(solid.mesh));
  const exact = solid.massProperties.volumeMm3;
  // Facets of a round surface lie inside it by up to the tolerance of the mesh.
  const facets = 2e-3 * Math.cbrt(Math.abs(exact)) * solid.massProperties.areaMm2 * 0.05;
  if (Math.abs(volumeMm3 - exact) <= CROSS_CHECK_SHARE * Math.abs(exact) + facets) return [];
  return [
    {
      code: 'volume-uncertain',
      message: `Two ways to find the volume disagree (${exact.toPrecision(6)} and ${volumeMm3.toPrecision(6)} mm³): the surfaces of this file are faulty. Export the model again.`,
    },
  ];
}

function readMeshSolid(
  file: MeshFile,
  format: FileFormat,
  options: ReadOptions,
  onStage: (stage: Stage) => void,
): Solid {
  onStage('measuring');
  const unit =
    file.declaredUnit ?? options.unit ?? guessUnit(length(extentsOf(file)), { expectedSizeMm: options.expectedSizeMm });
  const solid = solidOfMesh(file, unit);
  if (file.declaredUnit !== null || options.unit !== undefined) return solid;
  const size = boxSize(solid.bounds).map((value) => (value / LENGTH_UNITS[unit]).toFixed(unit === 'mm' ? 1 : 3));
  return {
    ...solid,
    warnings: [
      ...solid.warnings,
      {
        code: 'unit-guessed',
        message: `${formatOf(format).name} files state no unit. The numbers were taken as ${unit}, which makes the part ${size.join(' x ')} ${unit}.`,
      },
    ],
  };
}
