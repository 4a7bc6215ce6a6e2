/** Who wrote a STEP file and when, as far as its header says, and what it says apart from that. */

export interface FileTrace {
  /** The authors that the header names, joined; null where it names none. */
  readonly author: string | null;
  /** When it was written, by the clock of that machine; null where it does not say. */
  readonly writtenAt: string | null;
  /**
   * Everything behind the header, without white space and without what stands in quotes, such as the name of the part; for a
   * hash. Null for files of other formats.
   */
  readonly data: string | null;
}

const QUOTED = "'((?:[^']|'')*)'";
const FILE_NAME = new RegExp(`FILE_NAME\\s*\\(\\s*${QUOTED}\\s*,\\s*${QUOTED}\\s*,\\s*\\(([^)]*)\\)`);
/** A header ends long before. */
const MOST_HEADER = 20_000;
const NO_TRACE: FileTrace = { author: null, writtenAt: null, data: null };

/** Words that programs put where nobody is named. */
const NOBODY = new Set(['', 'none', 'unknown', 'author', 'user', 'n/a', '-']);

/** The trace of a file by its text; of files that are no STEP, nothing. */
export function traceOf(text: string): FileTrace {
  if (!/^[\s\uFEFF]*ISO-10303-21/.test(text)) return NO_TRACE;
  const found = FILE_NAME.exec(text.slice(0, MOST_HEADER));
  const authors = [...(found?.[3] ?? '').matchAll(new RegExp(QUOTED, 'g'))]
    .map(([, name = '']) => name.trim())
    .filter((name) => !NOBODY.has(name.toLowerCase()));
  const writtenAt = found?.[2]?.trim() ?? '';
  const start = text.search(/\bDATA\s*;/);
  return {
    author: authors.length === 0 ? null : authors.join(', '),
    writtenAt: Number.isNaN(Date.parse(writtenAt)) ? null : writtenAt,
    data:
      start < 0
        ? null
        : text
            .slice(start)
            .replace(/'(?:[^']|'')*'/g, "''")
            .replace(/\s+/g, ''),
  };
}
