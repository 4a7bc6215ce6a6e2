import type { CauseKind } from '#core/cause';
import {
  kindOf,
  ODD_HOLES,
  originShift,
  saysWhere,
  type Measurement,
  type OddFeature,
  type Reference,
} from '#core/check';
import { lengthText, parseTyped } from '#core/quantity';
import { length, type Vec3 } from '#core/vector';

import { isOnlyOneFeature, withAsDrawn } from './as-drawn.ts';
import type { Evidence } from './evidence.ts';
import { knownPart } from './known.ts';
import type { Cause, ReportLine } from './report.ts';
import type { Diagnosed, DiagnosedCause } from './diagnosed.ts';
import { near, sizeCauses, sizeInWords, wrongSizes, type Observed, type WrongSize } from './size-causes.ts';
import { densityFor, quantityOf, TYPED_LABELS } from './typed.ts';

const lengthIn = ({ unit, decimals }: Reference, lengthMm: number): string => lengthText(lengthMm, unit, decimals);

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
  // What explains the part completely comes first, whatever was observed beside it; what does not, where nothing was observed.
  const told = diagnosed.complete
    ? [...inWordsOfSheet(diagnosed, evidence), ...observed]
    : observed.length > 0
      ? observed
      : whereToLook(diagnosed.causes, evidence);
  return consistent(told, evidence);
}

/** What a diagnosis found, in the terms of the sheet: a wrong size by the check that speaks of it, where one does. */
function inWordsOfSheet({ causes, roots }: Diagnosed, evidence: Evidence): Cause[] {
  const told = causes.filter(({ instead }) => !instead);
  const [only, ...others] = wrongSizes(evidence).filter(({ target }) => roots.includes(target.checkId));
  return causes.map(({ about: _, why, becomes, ...cause }) =>
    !cause.instead && told.length === 1 && why !== undefined && only !== undefined && others.length === 0
      ? {
          ...cause,
          message: speaksOf(only, becomes) ? `${sizeInWords(only, evidence.reference)} ${why}` : cause.message,
        }
      : cause,
  );
}

/** Whether a wrong size of the sheet is the very number that a mistake was made in, or as far off as it. */
function speaksOf({ target, measured }: WrongSize, becomes: DiagnosedCause['becomes']): boolean {
  if (becomes === undefined) return false;
  return becomes.kind === 'place'
    ? near(Math.abs(measured - target.nominal), becomes.byMm)
    : near(target.nominal, becomes.from) && near(measured, becomes.to);
}

/**
 * A mistake that only comes near the part is no reason to name its numbers: only where to look is said, and that only where
 * a check that says where fails as it would.
 */
function whereToLook([first]: readonly DiagnosedCause[], { lines }: Evidence): Cause[] {
  if (first?.about === undefined) return [];
  const { about, why: _, becomes: __, ...cause } = first;
  const isSeen = failed(lines).some(
    (line) => cause.checkIds.includes(line.checkId) && line.kind !== 'nothing-else' && saysWhere(line),
  );
  return isSeen
    ? [
        {
          ...cause,
          id: 'wrong-size',
          message: `Look at ${about} again: most of what differs lies there, but no mistake that is known explains all of it.`,
        },
      ]
    : [];
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
      : [
          ...withAsDrawn(evidence, sizeCauses(evidence)),
          ...oddHoles(evidence),
          ...missingCauses(evidence),
          ...featureCauses(evidence),
        ]),
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

function frameCauses(evidence: Evidence): Observed[] {
  const { reference, measurement, lines } = evidence;
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
  if (frame.kind === 'moved' && length(frame.placement.translation) > 1e-6 && !isOnlyOneFeature(evidence))
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

/** Holes that are there, and are not as the sheet shows them: told by what they are instead, with all sizes that go with it. */
function oddHoles({ measurement, lines }: Evidence): Observed[] {
  const wrong = new Map(failed(lines).map((line) => [line.checkId, line]));
  return ODD_HOLES.flatMap((odd): Observed[] => {
    const checks = measurement.checks.filter(({ checkId, oddHole }) => oddHole === odd && wrong.has(checkId));
    const [first] = checks;
    const line = first && wrong.get(first.checkId);
    if (first?.reason === undefined || line === undefined) return [];
    const faces = new Set(checks.flatMap(({ referenceFaceIds }) => referenceFaceIds));
    const along = measurement.checks.filter(
      ({ checkId, measured, referenceFaceIds }) =>
        measured === null && wrong.has(checkId) && referenceFaceIds.some((id) => faces.has(id)),
    );
    return [
      {
        id: odd === 'goes-through' ? 'through-for-blind' : 'feature-forgotten',
        certainty: 0.9,
        message: `${line.label}: ${first.reason.charAt(0).toLowerCase()}${first.reason.slice(1)}`,
        checkIds: [...new Set([...checks, ...along].map(({ checkId }) => checkId))],
      },
    ];
  });
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

/** Features that are on one of the two parts only; holes where no check counts those of their size. */
function featureCauses({ reference, measurement, lines }: Evidence): Observed[] {
  if (failed(lines).length === 0 || measurement.frame.agreement < 0.3) return [];
  const isCounted = (sizeMm: number): boolean =>
    reference.targets.some((target) => 'diameterMm' in target && near(target.diameterMm, sizeMm));
  const words = ({ kind, sizeMm }: Measurement['missing'][number]): string | null => {
    if (kind === 'hole') return isCounted(sizeMm) ? null : `hole of diameter ${lengthIn(reference, sizeMm)}`;
    const name = FEATURE_WORDS[kind];
    return name === undefined ? null : `${name} ${lengthIn(reference, sizeMm)}`;
  };
  // What a check measured, with that size on those faces, is on the sheet.
  const isMeasured = ({ sizeMm, faceIds }: OddFeature): boolean =>
    measurement.checks.some(
      ({ measured, faceIds: own }) =>
        measured !== null && near(measured, sizeMm) && own.some((id) => faceIds.includes(id)),
    );
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
      measurement.extra.flatMap((feature) => (isMeasured(feature) ? [] : (words(feature) ?? []))),
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
