import { refuse, succeed, type Result } from '#core/problem';

/** Deeper than any document of this program, and far from what a stack holds. */
const MOST_NESTING = 100;

const [QUOTE, BACKSLASH, OPEN_LIST, OPEN_OBJECT, CLOSE_LIST, CLOSE_OBJECT] = ['"', '\\', '[', '{', ']', '}'].map(
  (sign) => sign.charCodeAt(0),
);

/** How deep lists and objects of a JSON text lie in each other, as far as `most` and one more; what is no JSON has any. */
function nestingOf(text: string, most: number): number {
  let [depth, deepest, isInText] = [0, 0, false];
  for (let i = 0; i < text.length && deepest <= most; i++) {
    const sign = text.charCodeAt(i);
    if (isInText) {
      if (sign === BACKSLASH) i++;
      else if (sign === QUOTE) isInText = false;
    } else if (sign === QUOTE) isInText = true;
    else if (sign === OPEN_LIST || sign === OPEN_OBJECT) deepest = Math.max(deepest, ++depth);
    else if (sign === CLOSE_LIST || sign === CLOSE_OBJECT) depth--;
  }
  return deepest;
}

/** Reads JSON that anybody may have written. Refuses with `bad-json` for what is none, or is nested without end. */
export function parseJson(text: string): Result<unknown> {
  if (nestingOf(text, MOST_NESTING) > MOST_NESTING)
    return refuse('bad-json', `This JSON is nested more than ${String(MOST_NESTING)} deep, which nothing here needs.`);
  try {
    return succeed(JSON.parse(text) as unknown);
  } catch {
    return refuse('bad-json', 'This is not JSON.');
  }
}
