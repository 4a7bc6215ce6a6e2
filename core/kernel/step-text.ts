import { refuse, succeed, type Result } from '#core/problem';
import type { LengthUnit } from '#core/quantity';

/** What the text of a STEP file says before the kernel reads its geometry. */
export interface StepHeader {
  readonly declaredUnit: LengthUnit | null;
  readonly productName: string | null;
  readonly originatingSystem: string | null;
}

const MAX_NESTING = 200;

/** Points farther out than this, in any unit, are damage; the kernel searches for them without end. */
const MAX_COORDINATE = 1e8;

/** Latin-1 keeps one character a byte, so that positions and lengths stay those of the file. */
function decode(bytes: Uint8Array): string {
  const parts: string[] = [];
  for (let i = 0; i < bytes.length; i += 32_768) parts.push(String.fromCharCode(...bytes.subarray(i, i + 32_768)));
  return parts.join('');
}

/**
 * A quoted string; a doubled quote stands for one quote. It ends where no further quote follows, which leaves one way
 * to read any text: a hostile file cannot make the search try them all.
 */
const QUOTED = "'((?:[^']|'')*)'(?!')";

/**
 * Replaces quoted strings by empty ones and leaves comments out, so that what they hold is not taken for structure. Which of
 * the two begins first decides: a quote in a comment is none, nor is a comment in a string.
 */
const withoutStrings = (text: string): string =>
  text.replace(new RegExp(`/\\*[^]*?\\*/|${QUOTED}`, 'g'), (found) => (found.startsWith('/') ? ' ' : "''"));

/** An instance number that is given to two entities, or null. */
function numberTwice(plain: string): string | null {
  const seen = new Set<string>();
  for (const match of plain.matchAll(/(?:^|;)\s*#\s*(\d+)\s*=/g)) {
    const number = match[1] ?? '';
    if (seen.has(number)) return number;
    seen.add(number);
  }
  return null;
}

function deepestNesting(text: string): number {
  let depth = 0;
  let deepest = 0;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code === 40) deepest = Math.max(deepest, ++depth);
    else if (code === 41) depth--;
  }
  return deepest;
}

function farthestCoordinate(plain: string): number {
  let far = 0;
  for (const match of plain.matchAll(/CARTESIAN_POINT\s*\(\s*''\s*,\s*\(([^)]*)\)/g))
    for (const number of (match[1] ?? '').split(',')) far = Math.max(far, Math.abs(Number(number)) || 0);
  return far;
}

/** The first number that no reader can use: not a number, infinite, or with an absurd exponent. */
function unusableNumber(text: string): string | null {
  const named = /[(,]\s*([-+]?(?:1\.?#?(?:INF|IND|QNAN)|NAN|INF(?:INITY)?))\s*[,)]/i.exec(text);
  if (named) return named[1] ?? '';
  for (const match of text.matchAll(/[\d.]E([-+]?\d+)/gi)) {
    const exponent = Number(match[1]);
    if (exponent > 100 || exponent < -300) return match[0];
  }
  return null;
}

/**
 * Looks a file over before the kernel sees it: the kernel hangs or crashes on some broken texts, and it has no words
 * for others. Refuses with `empty-file`, `not-step`, `truncated-step`, `step-decimal-comma`, `step-bad-number`,
 * `step-nesting`, `step-number-twice`.
 */
export function screenStep(bytes: Uint8Array): Result<string> {
  if (bytes.length === 0)
    return refuse('empty-file', 'The file is empty (0 bytes). Save the model again and hand in the new file.');
  const text = decode(bytes);
  if (!/^\s*(?:\/\*[\s\S]*?\*\/\s*)*ISO-10303-21\s*;/.test(text.replace(/^\u00ef\u00bb\u00bf/, '').slice(0, 4096)))
    return refuse(
      'not-step',
      'This is not a STEP file: it does not begin with "ISO-10303-21". Export the solid model as STEP (.step or .stp).',
    );
  const plain = withoutStrings(text);
  if (!/END-ISO-10303-21\s*;\s*$/.test(plain.slice(-400).replace(/\0/g, '')))
    return refuse(
      'truncated-step',
      'The STEP file breaks off before its end, so part of the model is missing. Export it again, and check that the copy is complete before you hand it in.',
    );
  if (deepestNesting(plain) > MAX_NESTING)
    return refuse('step-nesting', 'The STEP file is damaged (parentheses nested too deeply). Export the model again.');
  const twice = numberTwice(plain);
  if (twice !== null)
    return refuse(
      'step-number-twice',
      `The STEP file is damaged: two of its entities have the number #${twice}, so that it does not say which one is meant. Export the model again.`,
    );
  const bad = unusableNumber(plain);
  if (bad !== null)
    return refuse(
      'step-bad-number',
      `The STEP file contains a coordinate that is not a usable number ("${bad}"). Rebuild the feature it belongs to, or export the model again.`,
    );
  const points = plain.match(/CARTESIAN_POINT\s*\(\s*''\s*,\s*\([^)]*\)/g) ?? [];
  const comma = points.find((point) => point.split(',').length > 5);
  if (comma !== undefined)
    return refuse(
      'step-decimal-comma',
      'The STEP file writes numbers with a decimal comma, which the format does not allow, so its sizes cannot be trusted. Export it with the system set to a decimal point.',
    );
  const far = farthestCoordinate(plain);
  if (far > MAX_COORDINATE)
    return refuse(
      'step-absurd-size',
      `The STEP file places a point ${far.toExponential(1)} units away, which no part needs. Rebuild the feature it belongs to, or export the model again.`,
    );
  return succeed(text);
}

const METERS: Readonly<Record<string, number>> = { '': 1000, MILLI: 1, CENTI: 10, DECI: 100, KILO: 1e6, MICRO: 1e-3 };

const UNIT_NAMES: readonly (readonly [number, LengthUnit])[] = [
  [1, 'mm'],
  [10, 'cm'],
  [1000, 'm'],
  [25.4, 'in'],
  [304.8, 'ft'],
];

/** The length unit a STEP text declares for its geometry, or null when it says none that is known. */
export function declaredUnit(text: string): LengthUnit | null {
  const plain = withoutStrings(text);
  const entities = new Map<string, string>();
  for (const match of plain.matchAll(/#(\d+)\s*=([^;]*);/g))
    if ((match[2] ?? '').includes('UNIT')) entities.set(match[1] ?? '', match[2] ?? '');
  const factorOf = (id: string, depth = 0): number | null => {
    const body = entities.get(id);
    if (body === undefined || depth > 8) return null;
    const si = /SI_UNIT\s*\(\s*(?:\*\s*,\s*)?(?:\.(\w+)\.|\$)\s*,\s*\.METRE\.\s*\)/.exec(body);
    if (si) return METERS[si[1] ?? ''] ?? null;
    const conversion = /CONVERSION_BASED_UNIT\s*\(\s*''\s*,\s*#(\d+)\s*\)/.exec(body);
    if (!conversion) return null;
    const measure = measureWithUnit(plain, conversion[1] ?? '');
    const base = measure && factorOf(measure.unitId, depth + 1);
    return measure && base ? measure.value * base : null;
  };
  const assigned = [...plain.matchAll(/GLOBAL_UNIT_ASSIGNED_CONTEXT\s*\(\s*\(([^)]*)\)/g)];
  const candidates = assigned.flatMap((match) => [...(match[1] ?? '').matchAll(/#(\d+)/g)].map((id) => id[1] ?? ''));
  for (const id of candidates) {
    if (!/\bLENGTH_UNIT\b/.test(entities.get(id) ?? '')) continue;
    const factor = factorOf(id);
    const named = UNIT_NAMES.find(([size]) => factor !== null && Math.abs(factor / size - 1) < 1e-6);
    if (named) return named[1];
  }
  return null;
}

function measureWithUnit(text: string, id: string): { readonly value: number; readonly unitId: string } | null {
  const body = new RegExp(`#${id}\\s*=([^;]*);`).exec(text)?.[1] ?? '';
  const match = /\(\s*([-+.\dEe]+)\s*\)?\s*,\s*#(\d+)/.exec(body);
  return match ? { value: Number(match[1]), unitId: match[2] ?? '' } : null;
}

/** Letters of any script: `\\X2\\` and `\\X4\\` hold code points in hex, `\\X\\` and `\\S\\` one byte; many programs write UTF-8. */
function decodeText(text: string): string {
  const points = (hex: string, digits: number): string =>
    (hex.match(new RegExp(`[0-9A-F]{${String(digits)}}`, 'gi')) ?? [])
      .map((code) => Number.parseInt(code, 16))
      .map((code) => (code <= 0x10ffff ? String.fromCodePoint(code) : '\ufffd'))
      .join('');
  const plain = text
    .replace(/\\X2\\([0-9A-F]*)\\X0\\/gi, (_, hex: string) => points(hex, 4))
    .replace(/\\X4\\([0-9A-F]*)\\X0\\/gi, (_, hex: string) => points(hex, 8))
    .replace(/\\X\\([0-9A-F]{2})/gi, (_, hex: string) => points(hex, 2))
    .replace(/\\S\\(.)/g, (_, letter: string) => String.fromCharCode(letter.charCodeAt(0) + 128));
  if (!/[\u0080-\u00ff]/.test(plain) || /[\u0100-\uffff]/.test(plain)) return plain;
  try {
    return decodeURIComponent(plain.replace(/[%\u0080-\u00ff]/g, (c) => `%${c.charCodeAt(0).toString(16)}`));
  } catch {
    return plain;
  }
}

const unquote = (text: string | undefined): string | null =>
  text === undefined || text.trim() === '' ? null : decodeText(text.replaceAll("''", "'")).slice(0, 200);

/** Facts of the header and the first product. */
export function readHeader(text: string): StepHeader {
  const fileName = new RegExp(
    `FILE_NAME\\s*\\(\\s*${QUOTED}\\s*,\\s*${QUOTED}\\s*,\\s*\\([^)]*\\)\\s*,\\s*\\([^)]*\\)\\s*,\\s*${QUOTED}\\s*,\\s*${QUOTED}`,
  ).exec(text.slice(0, 20_000));
  const product = new RegExp(`=\\s*PRODUCT\\s*\\(\\s*${QUOTED}\\s*,\\s*${QUOTED}`).exec(text);
  return {
    declaredUnit: declaredUnit(text),
    productName: unquote(product?.[2]) ?? unquote(product?.[1]),
    originatingSystem: unquote(fileName?.[4]),
  };
}
