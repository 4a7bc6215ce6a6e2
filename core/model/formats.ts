import { strFromU8 } from 'fflate';

import { isZip } from '#core/archive';
import { isAsciiStl, isBinaryStl, isObj, isPly, read3mf, readObj, readPly, readStl, type MeshFile } from '#core/mesh';
import type { ModelFormat } from '#core/solid';

/** Formats of files; `recipe` is a part that was built here. */
export type FileFormat = Exclude<ModelFormat, 'recipe'>;

/** How a file is read: by the geometry kernel as exact surfaces, or as triangles. */
export type Reader =
  | { readonly by: 'kernel' }
  | { readonly by: 'triangles'; readonly read: (bytes: Uint8Array) => MeshFile };

/** What the content of a file is told by. */
interface Content {
  readonly bytes: Uint8Array;
  /** The beginning as text; bytes that are no text come as they are. */
  readonly head: string;
  /** The format that its name says, or null. */
  readonly named: FileFormat | null;
}

/** Everything that the program knows of one format of model files. */
export interface FormatDefinition {
  readonly name: string;
  /** File endings, lower case, the usual one first. */
  readonly extensions: readonly [string, ...string[]];
  readonly isIt: (content: Content) => boolean;
  readonly reader: Reader;
  /** Whether files of it say what their numbers are in. */
  readonly statesUnit: boolean;
  /** Whether parts are written in it as well. */
  readonly isWritten: boolean;
}

/** Bytes that an exporter may write before a text: blanks, and the mark of its encoding. */
const STEP_HEAD = /^[\s\uFEFF\u00ef\u00bb\u00bf]*ISO-10303-21/;

/** The table of formats, in the order in which the content of a file is tried and in which sentences name them. */
const FORMATS: Readonly<Record<FileFormat, FormatDefinition>> = {
  step: {
    name: 'STEP',
    extensions: ['step', 'stp'],
    isIt: ({ head }) => STEP_HEAD.test(head),
    reader: { by: 'kernel' },
    statesUnit: true,
    isWritten: true,
  },
  stl: {
    name: 'STL',
    extensions: ['stl'],
    // Any bytes may be a binary STL; a file that is named as text with triangles is not taken for one.
    isIt: ({ bytes, named, head }) =>
      !isZip(bytes) && !isPly(head) && (isAsciiStl(bytes) || (named !== 'obj' && isBinaryStl(bytes))),
    reader: { by: 'triangles', read: readStl },
    statesUnit: false,
    isWritten: true,
  },
  obj: {
    name: 'OBJ',
    extensions: ['obj'],
    isIt: ({ bytes, head }) => !isZip(bytes) && isObj(head),
    reader: { by: 'triangles', read: (bytes) => readObj(strFromU8(bytes, true)) },
    statesUnit: false,
    isWritten: false,
  },
  '3mf': {
    name: '3MF',
    extensions: ['3mf'],
    isIt: ({ bytes }) => isZip(bytes),
    reader: { by: 'triangles', read: read3mf },
    statesUnit: true,
    isWritten: true,
  },
  ply: {
    name: 'PLY',
    extensions: ['ply'],
    isIt: ({ head }) => isPly(head),
    reader: { by: 'triangles', read: readPly },
    statesUnit: false,
    isWritten: false,
  },
};

export const FILE_FORMATS = Object.keys(FORMATS) as readonly FileFormat[];

/** The definition of a format. */
export const formatOf = (format: FileFormat): FormatDefinition => FORMATS[format];

/** Endings of model files for a file picker: ".step,.stp,.stl,...". */
export const acceptedExtensions = (): string =>
  FILE_FORMATS.flatMap((format) => FORMATS[format].extensions.map((extension) => `.${extension}`)).join(',');

const listed = (words: readonly string[]): string => `${words.slice(0, -1).join(', ')} or ${words.at(-1) ?? ''}`;

/** Names of the formats in a sentence: "STEP (best), STL, OBJ, 3MF or PLY". Exact surfaces are better than triangles. */
export const formatNames = (): string =>
  listed(
    FILE_FORMATS.map((format) => {
      const { name, reader } = FORMATS[format];
      return reader.by === 'kernel' ? `${name} (best)` : name;
    }),
  );

/** Endings that parts are written with, in a sentence: ".step, .stl or .3mf". */
export const writtenExtensions = (): string =>
  listed(
    FILE_FORMATS.flatMap((format) => {
      const { isWritten, extensions } = FORMATS[format];
      return isWritten ? `.${extensions[0]}` : [];
    }),
  );

/** The format that a file is named as; null for other endings. */
export function formatOfName(fileName: string): FileFormat | null {
  const ending = /\.([^.]+)$/.exec(fileName.toLowerCase())?.[1] ?? '';
  return FILE_FORMATS.find((format) => FORMATS[format].extensions.includes(ending)) ?? null;
}

/** Most bytes that are looked at to tell a text format. */
const HEAD_BYTES = 65_536;

/** The format of a file by what is in it; its name only decides where the content could be two. */
export function detectFormat(bytes: Uint8Array, fileName = ''): FileFormat | null {
  const named = formatOfName(fileName);
  const content = { bytes, head: strFromU8(bytes.subarray(0, HEAD_BYTES), true), named };
  return FILE_FORMATS.find((format) => FORMATS[format].isIt(content)) ?? named;
}
