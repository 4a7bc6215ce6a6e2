/** How a course wants files to be called: a pattern such as "{number}-{surname}". */

/** Whose file it is, and of what. */
export interface NamedWork {
  /** Of the exercise. */
  readonly number: string;
  /** Of the student, given name first. */
  readonly name: string;
}

const WORDS = ['number', 'surname', 'name'] as const;

/** Words in braces that a pattern may have. */
export const FILE_NAME_WORDS: readonly string[] = WORDS;

/** The words in braces of a pattern that stand for nothing. */
export const unknownWords = (pattern: string): readonly string[] =>
  [...pattern.matchAll(/\{([^{}]*)\}/g)].flatMap(([, word = '']) =>
    FILE_NAME_WORDS.includes(word) ? [] : [`{${word}}`],
  );

/** The name of a file, without what follows the last point, that a pattern asks for; the last word of a name is the surname. */
export function wantedFileName(pattern: string, { number, name }: NamedWork): string {
  const surname = name.trim().split(/\s+/).at(-1) ?? '';
  return pattern.replaceAll('{number}', number).replaceAll('{surname}', surname).replaceAll('{name}', name.trim());
}

const plain = (text: string): string =>
  text
    .normalize('NFC')
    .trim()
    .toLowerCase()
    .replace(/[\s_]+/g, ' ');

/** Whether a file is called as it is wanted, in whatever capitals, with blanks or underscores between words. */
export const isCalled = (fileName: string, wanted: string): boolean =>
  plain(fileName.replace(/\.[^.]*$/, '')) === plain(wanted);
