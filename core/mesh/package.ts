/** The package around the model of a 3MF file (ISO/IEC 29500-2, Open Packaging Conventions). */
import { SaxesParser } from 'saxes';

import { ArchiveFault, entriesOf, unpack, unpackWhole, type ArchiveEntry } from '#core/archive';
import { ProblemError } from '#core/problem';

/** Unpacked bytes of the model part: a part of the most triangles has some 60 MB. */
const MOST_MODEL_BYTES = 160 * 1024 * 1024;
const MOST_RELATION_BYTES = 256 * 1024;
const RELATIONS = '_rels/.rels';
const MODEL_RELATION = '/3dmodel';

export const damaged3mf = (what: string): ProblemError =>
  new ProblemError('damaged-3mf', `The 3MF file is damaged (${what}). Export the model again.`);

const problemOf = ({ kind, why }: ArchiveFault): ProblemError => {
  if (kind === 'too-large')
    return new ProblemError(
      'too-large-unpacked',
      'The 3MF file unpacks to more data than any part needs. Export it with a coarser setting, or as STEP.',
    );
  if (kind === 'encrypted')
    return new ProblemError('locked-3mf', `The 3MF file cannot be read: ${why}. Export it without a password.`);
  return damaged3mf(why);
};

/** Gives the model of a package a piece at a time. Raises `damaged-3mf`, `locked-3mf`, `not-3mf`, `too-large-unpacked`. */
export function eachPieceOfModel(bytes: Uint8Array, onPiece: (piece: Uint8Array) => void): void {
  try {
    const entries = entriesOf(bytes);
    unpack(bytes, modelOf(bytes, entries), { mostBytes: MOST_MODEL_BYTES, onPiece });
  } catch (error) {
    throw error instanceof ArchiveFault ? problemOf(error) : error;
  }
}

function modelOf(bytes: Uint8Array, entries: readonly ArchiveEntry[]): ArchiveEntry {
  const relations = entries.find(({ name }) => name === RELATIONS);
  const named = relations && targetOf(new TextDecoder().decode(unpackWhole(bytes, relations, MOST_RELATION_BYTES)));
  const isModel = ({ name }: ArchiveEntry): boolean => name.toLowerCase().endsWith('.model');
  const entry =
    entries.find(({ name }) => name === named) ??
    entries.find(({ name }) => name === '3D/3dmodel.model') ??
    entries.find(isModel);
  if (entry === undefined)
    throw new ProblemError(
      'not-3mf',
      'The file is a package without a 3D model in it. Export the part as 3MF or STEP.',
    );
  return entry;
}

/** The name of the model as the relations of the package have it, or null where they name none. */
function targetOf(xml: string): string | null {
  let target: string | null = null;
  const parser = new SaxesParser();
  parser.on('error', () => {
    throw damaged3mf('the relations of the package cannot be read');
  });
  parser.on('doctype', () => {
    throw damaged3mf('its relations declare entities of their own');
  });
  parser.on('opentag', ({ attributes }) => {
    const { Target = '', Type = '', TargetMode = '' } = attributes as Readonly<Record<string, string>>;
    if (!Type.endsWith(MODEL_RELATION)) return;
    if (TargetMode === 'External' || Target.includes('..') || /^[a-z]+:/i.test(Target))
      throw damaged3mf('its model is said to lie outside of the package');
    target ??= Target.replace(/^\//, '');
  });
  parser.write(xml).close();
  return target;
}
