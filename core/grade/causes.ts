import type { CauseKind } from '#core/cause';
import {
  checkValueText,
  facesOfTarget,
  kindOf,
  originShift,
  type CheckMeasurement,
  type Measurement,
  type Reference,
  type Target,
} from '#core/check';
import { evaluateExpression, formatFixed, LENGTH_UNITS, lengthText, namesIn, parseTyped } from '#core/quantity';
import { length, type Vec3 } from '#core/vector';

import { knownPart, type KnownPart } from './known.ts';
import type { Cause, ReportLine, TypedLine } from './report.ts';
import type { Diagnosed } from './diagnosed.ts';
import { densityFor, quantityOf, TYPED_LABELS } from './typed.ts';

interface Evidence {
  readonly reference: Reference;
  readonly measurement: Measurement;
  readonly lines: readonly ReportLine[];
  readonly typed: readonly TypedLine[];
  /** Parts of other exercises, one of which may have been handed in. */
  readonly others: readonly KnownPart[];
}

type Sized = Extract<Target, { expression: string }>;

const isSized = (target: Target): target is Sized => 'expression' in target;

const lengthIn = ({ unit, decimals }: Reference, lengthMm: number): string => lengthText(lengthMm, unit, decimals);

type Observed = Omit<Cause, 'explains' | 'instead'>;

/**
 * Probable causes of what is wrong, the surest first; empty when nothing is wrong or nothing explains it. What a diagnosis
 * explains is not guessed at once more.
 */
export function findCauses(evidence: Evidence, diagnosed: Diagnosed | null): Cause[] {
  const other = diagnosed?.complete === true ? null : otherExercise(evidence);
  if (other !== null) return [other];
  const observed = observedCauses(evidence, diagnosed).map((cause): Cause => ({
    ...cause,
    explains: 'observed',
    instead: false,
  }));
  if (diagnosed === null) return consistent(observed, evidence);
  const all = [...diagnosed.causes, ...observed];
  // What explains the part completely comes first, whatever was observed beside it.
  return consistent(diagnosed.complete ? all : all.sort((a, b) => b.certainty - a.certainty), evidence);
}

/**
 * Causes that contradict nothing that was found: none of a part on which no check fails, none about checks that are all
 * right, and each sentence once. What is said of typed numbers, and of the file itself, has no check.
 */
function consistent(causes: readonly Cause[], { lines }: Evidence): Cause[] {
  const wrong = new Set(failed(lines).map(({ checkId }) => checkId));
  return causes.filter(
    ({ id, checkIds, message }, i) =>
      (checkIds.length === 0 || checkIds.some((checkId) => wrong.has(checkId))) &&
      (lines.length === 0 || wrong.size > 0 || NEEDS_NO_CHECK.has(id)) &&
      causes.findIndex((other) => other.message === message) === i,
  );
}

/** What is found in the typed numbers or in the file as a whole, whatever the checks say. */
const NEEDS_NO_CHECK: ReadonlySet<CauseKind> = new Set([
  'wrong-material',
  'typed-not-of-file',
  'several-bodies',
  'not-closed',
  'wrong-unit',
  'wrong-hand',
]);

/** That the part is that of another exercise; nothing else needs to be said then. */
function otherExercise({ measurement, lines, others }: Evidence): Cause | null {
  const checkIds = failed(lines).map((line) => line.checkId);
  const found = checkIds.length === 0 ? null : knownPart(measurement, others);
  return (
    found && {
      id: 'other-exercise',
      certainty: 0.97,
      message: `This is the part of ${found.name}, not of this exercise. Look whether the right file was handed in.`,
      checkIds,
      explains: 'all',
      instead: false,
    }
  );
}

function observedCauses(evidence: Evidence, diagnosed: Diagnosed | null): Observed[] {
  const explained = diagnosed?.complete === true;
  const causes = [
    ...modelQualityCauses(evidence),
    ...scaleCauses(evidence),
    ...(diagnosed?.inPlace === true ? [] : frameCauses(evidence)),
    ...(explained || evidence.measurement.frame.kind === 'scaled'
      ? []
      : [...sizeCauses(evidence), ...missingCauses(evidence), ...featureCauses(evidence)]),
    ...typedCauses(evidence),
  ];
  return causes.sort((a, b) => b.certainty - a.certainty);
}

const failed = (lines: readonly ReportLine[]): ReportLine[] => lines.filter((line) => line.verdict !== 'right');

function modelQualityCauses({ measurement, lines }: Evidence): Observed[] {
  const checkIds = failed(lines)
    .filter(({ kind }) => kindOf(kind).tellsOf === 'bodies')
    .map((line) => line.checkId);
  if (measurement.bodies > 1)
    return [
      {
        id: 'several-bodies',
        certainty: 0.95,
        message: `The file holds ${String(measurement.bodies)} separate bodies. Merge them into one body before you export.`,
        checkIds,
      },
    ];
  if (!measurement.closed)
    return [
      {
        id: 'not-closed',
        certainty: 0.9,
        message:
          'The surface of the body is not closed, so its volume cannot be trusted. Close the gap and export a solid.',
        checkIds,
      },
    ];
  return [];
}

const SCALE_WORDS: readonly (readonly [number, string])[] = [
  [
    1 / 25.4,
    'Every length is 25.4 times too large: the part was modeled or exported in inches instead of millimeters.',
  ],
  [25.4, 'Every length is 25.4 times too small: the part was modeled or exported in millimeters instead of inches.'],
  [0.1, 'Every length is 10 times too large: check the unit of the model (millimeters for centimeters).'],
  [10, 'Every length is 10 times too small: check the unit of the model (centimeters for millimeters).'],
  [0.001, 'Every length is 1000 times too large: check the unit of the model (millimeters for meters).'],
  [1000, 'Every length is 1000 times too small: check the unit of the model (meters for millimeters).'],
];

function scaleCauses({ measurement, lines }: Evidence): Observed[] {
  const { kind, placement, agreement } = measurement.frame;
  if (kind !== 'scaled') return [];
  const words = SCALE_WORDS.find(([factor]) => Math.abs(factor / placement.scale - 1) < 1e-9)?.[1];
  return words === undefined
    ? []
    : [
        {
          id: 'wrong-unit',
          certainty: Math.min(0.99, 0.6 + 0.4 * agreement),
          message: words,
          checkIds: failed(lines).map((line) => line.checkId),
        },
      ];
}

function vectorText(vector: Vec3, reference: Reference): string {
  return (['X', 'Y', 'Z'] as const)
    .flatMap((axis, i) => {
      const value = vector[i] ?? 0;
      return Math.abs(value) < 1e-6 ? [] : [`${lengthIn(reference, value)} in ${axis}`];
    })
    .join(', ');
}

function frameCauses({ reference, measurement, lines }: Evidence): Observed[] {
  const { frame } = measurement;
  const wrong = failed(lines).filter(({ kind }) => kindOf(kind).tellsOf === 'frame');
  if (frame.kind === 'mirrored' && frame.agreement > 0.9)
    return [
      {
        id: 'wrong-hand',
        certainty: 0.9 * frame.certainty,
        message:
          'The part is of the wrong hand: it fits the sheet only as its mirror image. Check on which side of the first outline it was built, and which way a mirrored feature goes.',
        checkIds: wrong.map((line) => line.checkId),
      },
    ];
  if (wrong.length === 0 || frame.agreement < 0.6) return [];
  const checkIds = wrong.map((line) => line.checkId);
  const certainty = 0.5 + 0.45 * frame.agreement;
  if (frame.kind === 'moved' && length(frame.placement.translation) > 1e-6)
    return [
      {
        id: 'shifted-origin',
        certainty,
        message: `The part lies ${vectorText(originShift(frame), reference)} from where the sheet puts it. Move it so that the origin is where the sheet says.`,
        checkIds,
      },
    ];
  if (frame.kind === 'turned')
    return [
      {
        id: 'wrong-plane',
        certainty,
        message: 'The part is turned: its first outline was drawn on another plane than the sheet shows.',
        checkIds,
      },
    ];
  return [];
}

const near = (a: number, b: number): boolean => Math.abs(a - b) <= Math.max(1e-3, Math.abs(b) * 1e-4);

/** Whether two written sizes differ only by two neighboring digits that changed places. */
function digitsSwapped(a: string, b: string): boolean {
  const [x, y] = [a, b].map((text) => text.replace(/[^\d.]/g, '')) as [string, string];
  if (x === y || x.length !== y.length) return false;
  const at = Array.from(x).findIndex((digit, i) => digit !== y[i]);
  return y === x.slice(0, at) + (x[at + 1] ?? '') + (x[at] ?? '') + x.slice(at + 2);
}

/** " (number 3 of 4)" where some but not all of the rounds that share a dimension are off. */
function whichMembers(target: Sized, check: CheckMeasurement): string {
  const members = check.members ?? [];
  const wrong = members.flatMap((measured, i) =>
    measured === null || Math.abs(measured - target.nominal) > target.tolerance ? [i + 1] : [],
  );
  return wrong.length > 0 && wrong.length < members.length
    ? ` (number ${wrong.join(', ')} of ${String(members.length)})`
    : '';
}

interface WrongSize {
  readonly target: Sized;
  readonly check: CheckMeasurement;
  readonly measured: number;
}

/** A value with the same number of decimals as all others of its quantity, whose digits can be compared. */
const plain = (value: number, { kind }: Target, { unit, decimals }: Reference): string =>
  kindOf(kind).quantity === 'angle' ? formatFixed(value, 2) : formatFixed(value / LENGTH_UNITS[unit], decimals);

const MOST_DECIMALS = 4;

/** What a size is and what it should be, in so many decimals that they differ. */
function toldApart(
  target: Sized,
  measured: number,
  { unit, decimals }: Reference,
): readonly [is: string, wanted: string] {
  const written = (value: number, places: number): string =>
    checkValueText(target.kind, value, { recipe: { unit }, decimals: places });
  const wanted = written(target.nominal, decimals);
  for (let places = decimals; places < MOST_DECIMALS; places++) {
    const is = written(measured, places);
    if (is !== written(target.nominal, places)) return [is, wanted];
  }
  return [written(measured, MOST_DECIMALS), wanted];
}

/** What happened to one size, judged by the ratio of measured to nominal and by the other numbers of the sheet. */
function explainSize({ target, check, measured }: WrongSize, reference: Reference): Omit<Observed, 'checkIds'> {
  const [is, wanted] = toldApart(target, measured, reference);
  // What a check off the sheet asks for is printed nowhere.
  const [said, where] =
    target.offSheet === true
      ? ['what follows from the sheet', `where ${wanted} follows from the sheet`]
      : ['what the sheet says', `where the sheet says ${wanted}`];
  const { tellsOf } = kindOf(target.kind);
  const size = tellsOf === 'diameter' || tellsOf === 'radius' ? tellsOf : null;
  const name = `${target.label}${whichMembers(target, check)}`;
  if (size !== null && near(measured, target.nominal * 2))
    return {
      id: 'diameter-for-radius',
      certainty: 0.95,
      message: `${name}: the ${size} is twice ${said} (${is} for ${wanted}). The diameter was typed where a radius was asked.`,
    };
  if (size !== null && near(measured, target.nominal / 2))
    return {
      id: 'radius-for-diameter',
      certainty: 0.95,
      message: `${name}: the ${size} is half of ${said} (${is} for ${wanted}). The radius was typed where a diameter was asked.`,
    };
  if (near(measured, target.nominal * 2) || near(measured, target.nominal / 2))
    return {
      id: measured > target.nominal ? 'whole-for-half' : 'half-for-whole',
      certainty: 0.8,
      message: `${name} is ${measured > target.nominal ? 'twice' : 'half of'} ${said} (${is} for ${wanted}). Check whether a size that is given over the whole width was used as half, or the reverse.`,
    };
  if (near(measured, target.nominal * 10) || near(measured, target.nominal / 10))
    return {
      id: 'decimal-point',
      certainty: 0.85,
      message: `${name}: the decimal point has slipped (${is} for ${wanted}).`,
    };
  if (near(measured, target.nominal * 25.4) || near(measured, target.nominal / 25.4))
    return {
      id: 'unit-of-one-value',
      certainty: 0.9,
      message: `${name} was entered in the wrong unit (${is} for ${wanted}).`,
    };
  if (
    digitsSwapped(...([measured, target.nominal].map((value) => plain(value, target, reference)) as [string, string]))
  )
    return {
      id: 'digits-swapped',
      certainty: 0.85,
      message: `${name} is ${is} ${where}: two digits were swapped.`,
    };
  const other = reference.targets.find(
    (candidate): candidate is Sized =>
      isSized(candidate) &&
      candidate.checkId !== target.checkId &&
      candidate.offSheet !== true &&
      kindOf(candidate.kind).quantity === kindOf(target.kind).quantity &&
      near(measured, candidate.nominal),
  );
  if (other)
    return {
      id: 'neighboring-dimension',
      certainty: 0.7,
      message: `${name} is ${is}, which is the value of "${other.label}" on the sheet; it should be ${wanted}.`,
    };
  return {
    id: 'wrong-size',
    certainty: 0.6,
    message: `${name} is ${is} ${where}.`,
  };
}

/**
 * Whether the wrong size `effect` follows from the wrong size `source`: the sheet gives the source as a letter, and with
 * the measured value for that letter the effect has just the size it was measured with.
 */
function followsFrom(effect: WrongSize, source: WrongSize, reference: Reference): boolean {
  const letter = source.target.expression.trim();
  if (effect === source || !(letter in reference.scope) || !namesIn(effect.target.expression).includes(letter))
    return false;
  const factorOf = ({ kind }: Target): number =>
    kindOf(kind).quantity === 'length' ? LENGTH_UNITS[reference.unit] : 1;
  const scope = { ...reference.scope, [letter]: source.measured / factorOf(source.target) };
  const value = evaluateExpression(effect.target.expression, scope, reference.unit);
  return value.ok && near(effect.measured, value.value * factorOf(effect.target));
}

/** Whether a size is printed on the sheet and hangs on a face of another one that is not. */
const isPrintedBeside = (printed: WrongSize, other: WrongSize): boolean =>
  printed.target.offSheet !== true &&
  facesOfTarget(printed.target).some((id) => facesOfTarget(other.target).includes(id));

/** Causes of sizes whose lines are not right; a size within its limits, or in doubt, has none. */
function sizeCauses({ reference, measurement, lines }: Evidence): Observed[] {
  const wrongIds = new Set(failed(lines).map(({ checkId }) => checkId));
  const wrong = reference.targets.flatMap((target): WrongSize[] => {
    const check = measurement.checks.find((candidate) => candidate.checkId === target.checkId);
    const measured = check?.measured ?? null;
    if (!isSized(target) || !check || measured === null) return [];
    return wrongIds.has(target.checkId) ? [{ target, check, measured }] : [];
  });
  const byMessage = new Map<string, Observed>();
  for (const size of wrong) {
    if (wrong.some((other) => followsFrom(size, other, reference))) continue;
    // What the sheet does not print is not told beside what it prints of the same faces.
    if (size.target.offSheet === true && wrong.some((other) => isPrintedBeside(other, size))) continue;
    const cause = explainSize(size, reference);
    const effects = wrong.filter((other) => followsFrom(other, size, reference));
    byMessage.set(cause.message, {
      ...cause,
      certainty: effects.length > 0 ? Math.max(cause.certainty, 0.85) : cause.certainty,
      message:
        effects.length > 0
          ? `${cause.message} ${effects.map(({ target }) => target.label).join(', ')} ${effects.length === 1 ? 'follows' : 'follow'} from it.`
          : cause.message,
      checkIds: [size.target.checkId, ...effects.map(({ target }) => target.checkId)],
    });
  }
  return [...byMessage.values()];
}

function missingCauses({ reference, measurement, lines }: Evidence): Observed[] {
  return reference.targets.flatMap((target): Observed[] => {
    if (!('diameterMm' in target)) return [];
    const count = measurement.checks.find((check) => check.checkId === target.checkId)?.measured ?? 0;
    const missing = target.nominal - count;
    const resized = lines.some(
      (line) =>
        kindOf(line.kind).tellsOf === 'diameter' &&
        line.verdict !== 'right' &&
        line.verdict !== 'missing' &&
        line.nominal !== null &&
        near(line.nominal, target.diameterMm),
    );
    if (missing === 0 || resized) return [];
    const size = `diameter ${lengthIn(reference, target.diameterMm)}`;
    return [
      {
        id: missing < 0 ? 'feature-extra' : count > 0 ? 'one-forgotten' : 'feature-forgotten',
        certainty: 0.9,
        message:
          missing > 0
            ? `${missing === 1 ? 'One hole' : `${String(missing)} holes`} of ${size} ${missing === 1 ? 'is' : 'are'} missing: the sheet shows ${String(target.nominal)}, the model has ${String(count)}.`
            : `The model has ${String(count)} holes of ${size}, the sheet shows ${String(target.nominal)}.`,
        checkIds: [
          target.checkId,
          ...lines
            .filter((line) => line.verdict === 'missing' && line.checkId !== target.checkId)
            .map((line) => line.checkId),
        ],
      },
    ];
  });
}

const FEATURE_WORDS: Readonly<Record<string, string>> = {
  'slotted-hole': 'slotted hole',
  boss: 'boss',
  pocket: 'pocket',
  slot: 'slot',
  groove: 'groove',
  rib: 'rib',
  fillet: 'round of radius',
  'full-round': 'full round of radius',
  chamfer: 'chamfer',
};

/** Features other than holes, which have a check of their own, that are on one of the two parts only. */
function featureCauses({ reference, measurement, lines }: Evidence): Observed[] {
  if (failed(lines).length === 0 || measurement.frame.agreement < 0.3) return [];
  const words = ({ kind, sizeMm }: Measurement['missing'][number]): string | null => {
    const name = FEATURE_WORDS[kind];
    return name === undefined ? null : `${name} ${lengthIn(reference, sizeMm)}`;
  };
  const cause = (id: CauseKind, names: readonly string[], sentence: (list: string) => string): Observed[] =>
    names.length === 0 || names.length > 4
      ? []
      : [
          {
            id,
            certainty: 0.65,
            message: sentence([...new Set(names)].join(', ')),
            checkIds: failed(lines)
              .filter((line) => line.verdict === 'missing')
              .map((line) => line.checkId),
          },
        ];
  return [
    ...cause(
      'feature-forgotten',
      measurement.missing.flatMap((feature) => words(feature) ?? []),
      (list) => `On the sheet, but not found on the model: ${list}.`,
    ),
    ...cause(
      'feature-extra',
      measurement.extra.flatMap((feature) => words(feature) ?? []),
      (list) => `On the model, but not on the sheet: ${list}.`,
    ).map((extra) => ({ ...extra, certainty: 0.5, checkIds: [] })),
  ];
}

function typedCauses({ reference, measurement, typed, lines }: Evidence): Observed[] {
  const causes: Observed[] = [];
  const mass = typed.find((line) => line.name === 'mass');
  if (mass?.ofFile === 'other-material') {
    const parsed = parseTyped(mass.text, quantityOf('mass'), mass.unit);
    const material = parsed.ok ? densityFor(parsed.value.value, parsed.value.resolution, measurement) : null;
    if (material)
      causes.push({
        id: 'wrong-material',
        certainty: 0.92,
        message: `The typed mass is that of your volume in ${material.name.toLowerCase()} (${String(material.densityGPerCm3)} g/cm³). The exercise asks for ${String(reference.densityGPerCm3)} g/cm³: set the material and read the mass again.`,
        checkIds: [],
      });
  }
  const strange = typed.filter((line) => line.ofFile === 'no' && line.value !== null);
  if (strange.length > 0)
    causes.push({
      id: 'typed-not-of-file',
      certainty: failed(lines).length === 0 ? 0.85 : 0.55,
      message: `${strange.map((line) => TYPED_LABELS[line.name]).join(', ')}: the typed ${strange.length === 1 ? 'number does' : 'numbers do'} not belong to the file that was handed in. Read ${strange.length === 1 ? 'it' : 'them'} again from the model you exported, with the right unit.`,
      checkIds: [],
    });
  return causes;
}
