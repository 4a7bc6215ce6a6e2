/** What is said of a wrong part, from measurements by hand: id, how sure, and every word. */
import { describe, expect, it } from 'vitest';

import type { Measurement, Target } from '#core/check';
import { gradeMeasurement, type TypedInput } from '#core/grade';
import { AS_MODELED, type Vec3 } from '#core/vector';

import { measurement, POLICY, properties, reference, target, VOLUME } from './testing.ts';

type Values = Readonly<Record<string, number | null>>;

function report(targets: readonly Target[], values: Values, more: Partial<Measurement> = {}) {
  return gradeMeasurement(reference(targets), measurement(values, more), { typed: [], policy: POLICY });
}
const causes = (...args: Parameters<typeof report>) =>
  report(...args).causes.map(({ id, certainty, message, checkIds }) => ({ id, certainty, message, checkIds }));

/** A check of the file as a whole. */
const ofFile = (kind: 'frame' | 'single-body', checkId: string): Target => ({
  kind,
  checkId,
  label: checkId,
  group: 'model-quality',
  weight: 1,
});

/** A length of 20 that is 24 on the model. */
const LENGTH = [target('length', 20)];
const OFF: Values = { length: 24 };

describe('a part in another unit', () => {
  const scaled = (scale: number, agreement = 1): Partial<Measurement> => ({
    frame: { kind: 'scaled', placement: { ...AS_MODELED, scale }, agreement, certainty: 1 },
  });
  it.each([
    [1 / 25.4, '25.4 times too large: the part was modeled or exported in inches instead of millimeters'],
    [25.4, '25.4 times too small: the part was modeled or exported in millimeters instead of inches'],
    [0.1, '10 times too large: check the unit of the model (millimeters for centimeters)'],
    [10, '10 times too small: check the unit of the model (centimeters for millimeters)'],
    [0.001, '1000 times too large: check the unit of the model (millimeters for meters)'],
    [1000, '1000 times too small: check the unit of the model (meters for millimeters)'],
  ])('that has to be taken times %d to fit is told with what was mixed up', (scale, words) => {
    expect(causes(LENGTH, OFF, scaled(scale))).toEqual([
      { id: 'wrong-unit', certainty: 0.99, message: `Every length is ${words}.`, checkIds: ['length'] },
    ]);
  });

  it('is told less surely the less of it fits', () => {
    // 0.6 and 0.4 times the share that agrees.
    expect(causes(LENGTH, OFF, scaled(10, 0.5))[0]?.certainty).toBeCloseTo(0.8, 12);
  });

  it('and says nothing of single sizes, which are all off', () => {
    expect(causes([...LENGTH, target('width', 10)], { length: 200, width: 100 }, scaled(0.1))).toHaveLength(1);
  });
});

describe('a part in another place', () => {
  /** The check of the frame, which is not kept. */
  const FRAME = ofFile('frame', 'frame');
  const lying = (kind: Measurement['frame']['kind'], translation: Vec3, agreement = 1): Partial<Measurement> => ({
    frame: { kind, placement: { ...AS_MODELED, translation }, agreement, certainty: 0.8 },
  });
  const found = (...args: Parameters<typeof lying>) => causes([FRAME], { frame: 0 }, lying(...args));

  it('is told how far it lies from where it should, along each axis that it is off', () => {
    // What brings it back is the other way round.
    expect(found('moved', [-5, 0, 3])).toEqual([
      {
        id: 'shifted-origin',
        certainty: 0.95,
        message:
          'The part lies 5.0 mm in X, -3.0 mm in Z from where the sheet puts it. Move it so that the origin is where the sheet says.',
        checkIds: ['frame'],
      },
    ]);
    expect(found('moved', [0, -0.4, 0])[0]?.message).toMatch(/^The part lies 0\.4 mm in Y from /);
  });

  it('on another plane is told so', () => {
    expect(found('turned', [0, 0, 0])).toEqual([
      {
        id: 'wrong-plane',
        certainty: 0.95,
        message: 'The part is turned: its first outline was drawn on another plane than the sheet shows.',
        checkIds: ['frame'],
      },
    ]);
  });

  it('is not explained where hardly anything fits, nor where its place does not matter', () => {
    expect(found('moved', [-5, 0, 3], 0.59)).toEqual([]);
    expect(found('moved', [-5, 0, 3], 0.61)[0]?.certainty).toBeCloseTo(0.5 + 0.45 * 0.61, 12);
    expect(causes([FRAME], { frame: 1 }, lying('moved', [-5, 0, 3]))).toEqual([]);
  });

  it('of the wrong hand is told even where only its mirror image fits, as surely as the frame is known', () => {
    const [mirrored] = causes(LENGTH, { length: 20 }, lying('mirrored', [0, 0, 0], 0.95));
    expect(mirrored).toMatchObject({ id: 'wrong-hand', checkIds: [] });
    expect(mirrored?.certainty).toBeCloseTo(0.9 * 0.8, 12);
    expect(causes(LENGTH, { length: 20 }, lying('mirrored', [0, 0, 0], 0.9))).toEqual([]);
  });
});

describe('a body', () => {
  const BODY = ofFile('single-body', 'body');
  it('in pieces is told with their number', () => {
    expect(causes([BODY], { body: 0 }, { bodies: 3 })).toEqual([
      {
        id: 'several-bodies',
        certainty: 0.95,
        message: 'The file holds 3 separate bodies. Merge them into one body before you export.',
        checkIds: ['body'],
      },
    ]);
  });
  it('that is open is told so', () => {
    expect(causes([BODY], { body: 0 }, { closed: false })).toEqual([
      {
        id: 'not-closed',
        certainty: 0.9,
        message:
          'The surface of the body is not closed, so its volume cannot be trusted. Close the gap and export a solid.',
        checkIds: ['body'],
      },
    ]);
  });
});

describe('a wrong size is told with both sizes', () => {
  const said = (nominal: number, measured: number, extra: object = {}) => {
    const [first] = causes([target('Slot', nominal, extra)], { Slot: measured });
    return first === undefined ? null : [first.id, first.certainty, first.message];
  };
  const round = { kind: 'diameter', members: [[0]] };
  it.each([
    [
      [9, 4.5, round],
      'radius-for-diameter',
      0.95,
      'Slot: the diameter is half of what the sheet says (4.5 mm for 9.0 mm). The radius was typed where a diameter was asked.',
    ],
    [
      [9, 18, round],
      'diameter-for-radius',
      0.95,
      'Slot: the diameter is twice what the sheet says (18.0 mm for 9.0 mm). The diameter was typed where a radius was asked.',
    ],
    [
      [5, 2.5, { ...round, kind: 'radius' }],
      'radius-for-diameter',
      0.95,
      'Slot: the radius is half of what the sheet says (2.5 mm for 5.0 mm). The radius was typed where a diameter was asked.',
    ],
    [
      [30, 15],
      'half-for-whole',
      0.8,
      'Slot is half of what the sheet says (15.0 mm for 30.0 mm). Check whether a size that is given over the whole width was used as half, or the reverse.',
    ],
    [
      [30, 60],
      'whole-for-half',
      0.8,
      'Slot is twice what the sheet says (60.0 mm for 30.0 mm). Check whether a size that is given over the whole width was used as half, or the reverse.',
    ],
    [[2.4, 24], 'decimal-point', 0.85, 'Slot: the decimal point has slipped (24.0 mm for 2.4 mm).'],
    [[24, 2.4], 'decimal-point', 0.85, 'Slot: the decimal point has slipped (2.4 mm for 24.0 mm).'],
    [[1, 25.4], 'unit-of-one-value', 0.9, 'Slot was entered in the wrong unit (25.4 mm for 1.0 mm).'],
    [[254, 10], 'unit-of-one-value', 0.9, 'Slot was entered in the wrong unit (10.0 mm for 254.0 mm).'],
    [[64, 46], 'digits-swapped', 0.85, 'Slot is 46.0 mm where the sheet says 64.0 mm: two digits were swapped.'],
    [[12.3, 13.2], 'wrong-size', 0.6, 'Slot is 13.2 mm where the sheet says 12.3 mm.'],
    [[64, 61.3], 'wrong-size', 0.6, 'Slot is 61.3 mm where the sheet says 64.0 mm.'],
    [[123, 321], 'wrong-size', 0.6, 'Slot is 321.0 mm where the sheet says 123.0 mm.'],
  ] as const)('%j', (sizes, id, certainty, message) => {
    const [nominal, measured, extra] = sizes as readonly [number, number, object?];
    expect(said(nominal, measured, extra)).toEqual([id, certainty, message]);
  });

  it('and nothing is said up to the end of its tolerance', () => {
    expect(said(20, 20.05)).toBeNull();
    expect(said(20, 19.95)).toBeNull();
    expect(said(20, 20.051)?.[0]).toBe('wrong-size');
    expect(said(20, 19.949)?.[0]).toBe('wrong-size');
  });

  it('and nothing where it is in doubt, or lies within limits of its own', () => {
    const doubtful = measurement({ Slot: 20.09 });
    const checks = doubtful.checks.map((check) => ({ ...check, uncertainty: 0.05 }));
    expect(
      gradeMeasurement(reference([target('Slot', 20)]), { ...doubtful, checks }, { typed: [], policy: POLICY }).causes,
    ).toEqual([]);
    // From 20.0 to 20.3: what a plain 0.15 about the nominal would refuse.
    const limits = { tolerance: 0.15, limits: { lower: 0, upper: 0.3 } };
    expect(said(20, 20.29, limits)).toBeNull();
    expect(said(20, 19.95, limits)?.[0]).toBe('wrong-size');
  });

  it('near twice or half it is that only to a ten-thousandth', () => {
    expect(said(30, 60.005)?.[0]).toBe('whole-for-half');
    expect(said(30, 60.007)?.[0]).toBe('wrong-size');
  });

  it('that another dimension has is told with the name of that', () => {
    expect(causes([target('Slot', 17), target('Groove', 12)], { Slot: 12, Groove: 12 })).toEqual([
      {
        id: 'neighboring-dimension',
        certainty: 0.7,
        message: 'Slot is 12.0 mm, which is the value of "Groove" on the sheet; it should be 17.0 mm.',
        checkIds: ['Slot'],
      },
    ]);
  });

  it('that others follow from is told once, with them, and more surely', () => {
    const targets = [
      target('length', 20, { expression: 'A' }),
      target('pitch', 6, { expression: 'A - 14' }),
      target('rest', 30, { expression: '50 - A' }),
      target('width', 7),
    ];
    expect(causes(targets, { length: 23, pitch: 9, rest: 27, width: 7 })).toEqual([
      {
        id: 'wrong-size',
        certainty: 0.85,
        message: 'length is 23.0 mm where the sheet says 20.0 mm. pitch, rest follow from it.',
        checkIds: ['length', 'pitch', 'rest'],
      },
    ]);
    const [one] = causes(targets, { length: 23, pitch: 9, rest: 30, width: 7 });
    expect(one?.message).toBe('length is 23.0 mm where the sheet says 20.0 mm. pitch follows from it.');
    // A pitch that is off in its own way does not follow.
    expect(causes(targets, { length: 23, pitch: 8, rest: 27, width: 7 })).toHaveLength(2);
  });
});

describe('one mistake is one cause', () => {
  const extent = (checkId: string, axis: 0 | 1 | 2, nominal: number, expression: string): Target =>
    target(checkId, nominal, { kind: 'overall-size', axis, expression });
  const round = (checkId: string, nominal: number, expression: string): Target =>
    target(checkId, nominal, { kind: 'diameter', members: [[0]], expression });

  it('where several sizes are the same letter, none of which is more its own than another', () => {
    const targets = [extent('length', 0, 20, 'A'), extent('width', 1, 20, 'A'), round('drum', 20, 'A')];
    expect(causes(targets, { length: 18.7, width: 18.7, drum: 18.7 })).toEqual([
      {
        id: 'wrong-size',
        certainty: 0.85,
        message: 'drum is 18.7 mm where the sheet says 20.0 mm. length, width follow from it.',
        checkIds: ['drum', 'length', 'width'],
      },
    ]);
  });

  it('where sizes along one axis are off by the same: the smallest is told, which a sum is not', () => {
    const along = (checkId: string, nominal: number): Target =>
      target(checkId, nominal, {
        kind: 'center-distance',
        expression: String(nominal),
        along: 2,
      });
    expect(causes([extent('height', 2, 40, '40'), along('foot', 10)], { height: 39.6, foot: 9.6 })).toEqual([
      {
        id: 'wrong-size',
        certainty: 0.85,
        message:
          'foot is 9.6 mm where the sheet says 10.0 mm. height is off by the same 0.4 mm, which may be one mistake.',
        checkIds: ['foot', 'height'],
      },
    ]);
    // A degree and a millimeter are not the same deviation.
    const slope = { ...along('slope', 30), kind: 'angle' } as unknown as Target;
    expect(causes([slope, along('foot', 10)], { slope: 29.6, foot: 9.6 })).toHaveLength(2);
    expect(causes([along('foot', 10), slope], { slope: 29.6, foot: 9.6 })).toHaveLength(2);
    // By another length, or along another axis, they are two.
    expect(causes([extent('height', 2, 40, '40'), along('foot', 10)], { height: 39.5, foot: 9.6 })).toHaveLength(2);
    expect(causes([extent('length', 0, 40, '40'), along('foot', 10)], { length: 39.6, foot: 9.6 })).toHaveLength(2);
  });

  it('where a round is wide and high, which is no size of another kind', () => {
    const targets = [extent('width', 1, 38, '38'), extent('height', 2, 38, '38'), extent('length', 0, 88, '88')];
    expect(causes(targets, { width: 40.6, height: 40.6, length: 90.6 }).map(({ checkIds }) => checkIds)).toEqual([
      ['width', 'height'],
      ['length'],
    ]);
  });
});

describe('what a sheet draws without a number', () => {
  const drawn = (kind: 'concentric' | 'flush' | 'square' | 'axes-meet', label: string): Target =>
    ({
      kind,
      checkId: 'drawn',
      label,
      group: 'dimensions',
      weight: 1,
      nominal: 0,
      tolerance: 0.02,
      fromFaceIds: [],
      toFaceIds: [],
    }) as unknown as Target;
  it.each([
    ['concentric', 'the two axes, which the sheet draws as one, are 1.3 mm apart'],
    ['axes-meet', 'the two axes, which cross on the sheet, pass each other by 1.3 mm'],
    ['flush', 'what the sheet draws as one face has a step of 1.3 mm'],
    ['square', 'a face that the sheet draws square leans by 1.30°'],
  ] as const)('%s is told where the model has it otherwise', (kind, words) => {
    expect(causes([drawn(kind, 'Hub')], { drawn: 1.3 })).toEqual([
      { id: 'not-as-drawn', certainty: 0.6, message: `Hub: ${words}.`, checkIds: ['drawn'] },
    ]);
    expect(causes([drawn(kind, 'Hub')], { drawn: 0.01 })).toEqual([]);
  });

  it('is told once where two checks would say it in the same words', () => {
    const again = { ...drawn('flush', 'Hub'), checkId: 'again' };
    const values = { drawn: 1.3, again: 1.3 };
    expect(causes([drawn('flush', 'Hub'), again], values).map(({ message }) => message)).toEqual([
      'Hub: what the sheet draws as one face has a step of 1.3 mm.',
    ]);
    // Off by another length it is another sentence.
    expect(causes([drawn('flush', 'Hub'), again], { ...values, again: 0.9 })).toHaveLength(2);
  });
});

describe('several things that one moved feature puts off', () => {
  /** Axes that the sheet draws as one with that of a drum, which is face 0. */
  const onDrum = (checkId: string, face: number): Target =>
    ({
      kind: 'concentric',
      checkId,
      label: `${checkId} concentric with Drum`,
      group: 'dimensions',
      weight: 1,
      nominal: 0,
      tolerance: 0.02,
      fromFaceIds: [face],
      toFaceIds: [0],
    }) as unknown as Target;
  const distance = (checkId: string, nominal: number, face: number, more: object = {}): Target =>
    target(checkId, nominal, { fromFaceIds: [face], toFaceIds: [9], ...more });
  const told = (targets: readonly Target[], values: Values, more: Partial<Measurement> = {}) =>
    causes(targets, values, more).map(({ certainty, message, checkIds }) => [certainty, message, checkIds]);

  it('are told once where they are off by the same and share it', () => {
    expect(told([onDrum('Hub', 1), onDrum('Bore', 2)], { Hub: 1.3, Bore: 1.3 })).toEqual([
      [
        0.85,
        'Hub concentric with Drum, Bore concentric with Drum: the two axes, which the sheet draws as one, are 1.3 mm apart. All of them are off by the same, which may be one mistake.',
        ['Hub', 'Bore'],
      ],
    ]);
    // Off by other lengths, they are two.
    expect(told([onDrum('Hub', 1), onDrum('Bore', 2)], { Hub: 1.3, Bore: 0.7 })).toHaveLength(2);
    // With nothing in common, they are two as well.
    const apart = { ...onDrum('Bore', 2), toFaceIds: [3] } as unknown as Target;
    expect(told([onDrum('Hub', 1), apart], { Hub: 1.3, Bore: 1.3 })).toHaveLength(2);
  });

  it('are told by the size that is printed, where one is off by as much at the same face', () => {
    expect(told([onDrum('Hub', 1), distance('Foot', 20, 1)], { Hub: 1.3, Foot: 21.3 })).toEqual([
      [
        0.85,
        'Foot is 21.3 mm where the sheet says 20.0 mm. Hub concentric with Drum: the two axes, which the sheet draws as one, are 1.3 mm apart, which may be the same mistake.',
        ['Foot', 'Hub'],
      ],
    ]);
    // At another face it is another mistake, and so is another length.
    expect(told([onDrum('Hub', 1), distance('Foot', 20, 7)], { Hub: 1.3, Foot: 21.3 })).toHaveLength(2);
    expect(told([onDrum('Hub', 1), distance('Foot', 20, 1)], { Hub: 1.3, Foot: 21.4 })).toHaveLength(2);
  });

  it('and by what is drawn, where the size is printed nowhere', () => {
    const derived = distance('Foot', 20, 1, { offSheet: true });
    expect(told([onDrum('Hub', 1), derived], { Hub: 1.3, Foot: 18.7 })).toEqual([
      [
        0.85,
        'Hub concentric with Drum: the two axes, which the sheet draws as one, are 1.3 mm apart. Foot is off by as much.',
        ['Hub', 'Foot'],
      ],
    ]);
  });

  it('with the angles that are told from the axis which they share', () => {
    const ring = target('Vents', 72, { kind: 'spacing', rings: [], aboutFaceIds: [0] });
    const [first, ...more] = told([onDrum('Hub', 1), onDrum('Bore', 2), ring], { Hub: 1.3, Bore: 1.3, Vents: 68 });
    expect(more).toEqual([]);
    expect(first?.[1]).toContain('Vents is told from the axis that they share, and off too.');
    // About another axis it is another mistake.
    const other = target('Vents', 72, { kind: 'spacing', rings: [], aboutFaceIds: [5] });
    expect(told([onDrum('Hub', 1), onDrum('Bore', 2), other], { Hub: 1.3, Bore: 1.3, Vents: 68 })).toHaveLength(2);
    // Beside one pair, that of both has moved which the ring is about.
    const [only, ...others] = told([onDrum('Hub', 1), ring], { Hub: 1.3, Vents: 68 });
    expect(others).toEqual([]);
    expect(only?.[1]).toContain('Vents is told from one of these axes, and off too.');
  });

  it('and do not move the whole part, though its frame lies as far off', () => {
    const moved = (x: number): Partial<Measurement> => ({
      frame: { kind: 'moved', placement: { ...AS_MODELED, translation: [x, 0, 0] }, agreement: 0.8, certainty: 0.8 },
    });
    const targets = [onDrum('Hub', 1), ofFile('frame', 'frame')];
    const ids = (x: number): string[] => causes(targets, { Hub: 1.3, frame: 0 }, moved(x)).map(({ id }) => id);
    expect(ids(1.3)).toEqual(['not-as-drawn']);
    expect(ids(5)).toEqual(['shifted-origin', 'not-as-drawn']);
  });
});

describe('a diagnosis is told in the terms of the sheet', () => {
  const found = (more: object) => ({
    id: 'wrong-edge' as const,
    certainty: 0.98,
    message: 'Hole "pins": the place across is off by 1.5 mm. Was it measured from another edge?',
    checkIds: ['pins'],
    explains: 'all' as const,
    instead: false,
    about: 'Hole "pins"',
    why: 'Was it measured from another edge?',
    ...more,
  });
  const told = (cause: object, complete = true) =>
    gradeMeasurement(reference([target('pins', 14)]), measurement({ pins: 15.5 }), {
      typed: [],
      policy: POLICY,
      diagnosed: { causes: [found(cause)], complete, inPlace: false, checks: [], roots: ['pins'] },
    }).causes.map(({ id, message }) => [id, message]);

  it('by the size that speaks of it', () => {
    expect(told({ becomes: { kind: 'place', byMm: 1.5 } })).toEqual([
      ['wrong-edge', 'pins is 15.5 mm where the sheet says 14.0 mm. Was it measured from another edge?'],
    ]);
  });
  it('which of the sizes of a round it is, where its name does not say so', () => {
    const diameter = (label: string) =>
      gradeMeasurement(
        reference([target('pins', 14, { kind: 'diameter', members: [[0]], label })]),
        measurement({ pins: 7 }),
        {
          typed: [],
          policy: POLICY,
          diagnosed: {
            causes: [found({ why: 'Was it the radius?', becomes: { kind: 'size', from: 14, to: 7 } })],
            complete: true,
            inPlace: false,
            checks: [],
            roots: ['pins'],
          },
        },
      ).causes[0]?.message;
    expect(diameter('Pin hole')).toBe(
      'Pin hole: the diameter is 7.0 mm where the sheet says 14.0 mm. Was it the radius?',
    );
    expect(diameter('Pin hole diameter')).toBe(
      'Pin hole diameter is 7.0 mm where the sheet says 14.0 mm. Was it the radius?',
    );
  });
  it('but in its own words where that size is off by something else', () => {
    expect(told({ becomes: { kind: 'place', byMm: 3 } })).toEqual([['wrong-edge', found({}).message]]);
    expect(told({ becomes: { kind: 'size', from: 14, to: 17 } })).toEqual([['wrong-edge', found({}).message]]);
  });
  it('and stands where one of its checks is wrong, though another is right; not where all are right', () => {
    const about = (values: Values) =>
      gradeMeasurement(reference([target('pins', 14), target('length', 20)]), measurement(values), {
        typed: [],
        policy: POLICY,
        diagnosed: {
          causes: [found({ checkIds: ['pins', 'length'] })],
          complete: true,
          inPlace: false,
          checks: [],
          roots: ['pins'],
        },
      }).causes.map(({ id }) => id);
    expect(about({ pins: 15.5, length: 20 })).toEqual(['wrong-edge']);
    expect(about({ pins: 14, length: 20 })).toEqual([]);
  });
  it('and what explains the part only in part is not told beside a size that was measured', () => {
    expect(told({ explains: 'most', certainty: 0.3 }, false)).toEqual([
      ['wrong-size', 'pins is 15.5 mm where the sheet says 14.0 mm.'],
    ]);
  });
  it('but alone, as a place to look at, where a check that says where is missing or wrong with it', () => {
    const alone = (checkIds: readonly string[], pins: number | null) =>
      gradeMeasurement(reference([target('pins', 14), VOLUME]), measurement({ pins, volume: 9000 }), {
        typed: [],
        policy: POLICY,
        diagnosed: {
          causes: [found({ explains: 'most', certainty: 0.3, checkIds })],
          complete: false,
          inPlace: false,
          checks: [],
          roots: [],
        },
      }).causes.map(({ message }) => message);
    expect(alone(['pins', 'volume'], null)).toEqual([
      'Look at Hole "pins" again: most of what differs lies there, but no mistake that is known explains all of it.',
    ]);
    expect(alone(['volume'], 14)).toEqual([]);
  });
});

describe('holes that are counted', () => {
  const count = (nominal: number): Target => ({
    kind: 'hole-count',
    checkId: 'count',
    label: 'Number of holes',
    group: 'features',
    weight: 1,
    nominal,
    tolerance: 0,
    diameterMm: 9,
    faceIds: [],
  });
  it.each([
    [4, 3, 'one-forgotten', 'One hole of diameter 9.0 mm is missing: the sheet shows 4, the model has 3.'],
    [4, 2, 'one-forgotten', '2 holes of diameter 9.0 mm are missing: the sheet shows 4, the model has 2.'],
    [4, 0, 'feature-forgotten', '4 holes of diameter 9.0 mm are missing: the sheet shows 4, the model has 0.'],
    [4, 5, 'feature-extra', 'The model has 5 holes of diameter 9.0 mm, the sheet shows 4.'],
  ] as const)('%d on the sheet and %d on the model', (wanted, there, id, message) => {
    expect(causes([count(wanted)], { count: there })).toEqual([{ id, certainty: 0.9, message, checkIds: ['count'] }]);
  });

  it('are there where as many as the sheet shows are', () => {
    expect(causes([count(4)], { count: 4 })).toEqual([]);
  });

  it('are not missing where they have another diameter, which is told instead', () => {
    const diameter = target('diameter', 9, { kind: 'diameter', members: [[0]] });
    const found = causes([diameter, count(4)], { diameter: 4.5, count: 0 });
    expect(found.map(({ id }) => id)).toEqual(['radius-for-diameter']);
  });

  it('take what cannot be measured without them along', () => {
    const found = causes([count(1), target('place', 12)], { count: 0, place: null });
    expect(found).toMatchObject([{ id: 'feature-forgotten', checkIds: ['count', 'place'] }]);
  });
});

describe('what a report says of its causes', () => {
  it('tells two sizes apart that are one in the decimals of the sheet', () => {
    // Off by 0.02 where 0.01 is allowed, and the sheet has one decimal.
    const tight = { ...target('length', 20), tolerance: 0.01 };
    const [cause] = causes([tight], { length: 20.02 });
    expect(cause?.message).toBe('length is 20.02 mm where the sheet says 20.0 mm.');
  });

  it('is nothing where no check fails, whatever the faces look like', () => {
    expect(
      causes([target('length', 20)], { length: 20 }, { extra: [{ kind: 'chamfer', sizeMm: 2, faceIds: [] }] }),
    ).toEqual([]);
  });

  it('leaves out what the sheet does not print beside what it prints of the same face', () => {
    const pair = (checkId: string, nominal: number, faces: readonly [number, number], offSheet: boolean): Target =>
      ({
        ...target(checkId, nominal),
        kind: 'distance',
        fromFaceIds: [faces[0]],
        toFaceIds: [faces[1]],
        ...(offSheet ? { offSheet: true } : {}),
      }) as Target;
    const both = [pair('printed', 30, [0, 1], false), pair('other', 12, [1, 2], true)];
    expect(causes(both, { printed: 31, other: 11 }).map(({ checkIds }) => checkIds)).toEqual([['printed']]);
    // Of other faces it is told, as what follows.
    const apart = [pair('printed', 30, [0, 1], false), pair('other', 12, [3, 4], true)];
    expect(causes(apart, { printed: 31, other: 11 }).map(({ message }) => message)).toEqual([
      'printed is 31.0 mm where the sheet says 30.0 mm.',
      'other is 11.0 mm where 12.0 mm follows from the sheet.',
    ]);
  });
});

describe('features that only one of the two has', () => {
  const odd = (
    kind: 'slot' | 'pocket' | 'fillet' | 'chamfer' | 'rib' | 'hole',
    sizeMm: number,
  ): Measurement['missing'][number] => ({ kind, sizeMm, faceIds: [] });

  it('are named with their size, each once', () => {
    expect(
      causes([target('place', 12)], { place: null }, { missing: [odd('slot', 6), odd('fillet', 3), odd('fillet', 3)] }),
    ).toEqual([
      {
        id: 'feature-forgotten',
        certainty: 0.65,
        message: 'On the sheet, but not found on the model: slot 6.0 mm, round of radius 3.0 mm.',
        checkIds: ['place'],
      },
    ]);
    expect(causes(LENGTH, OFF, { extra: [odd('chamfer', 2)] })[1]).toEqual({
      id: 'feature-extra',
      certainty: 0.5,
      message: 'On the model, but not on the sheet: chamfer 2.0 mm.',
      checkIds: [],
    });
  });

  it('are holes too, where no check counts those of their size', () => {
    const extra = { extra: [odd('hole', 8)] };
    expect(causes(LENGTH, OFF, extra)[1]?.message).toBe('On the model, but not on the sheet: hole of diameter 8.0 mm.');
    const counted: Target = {
      kind: 'hole-count',
      checkId: 'count',
      label: 'Number of holes',
      group: 'features',
      weight: 1,
      nominal: 4,
      tolerance: 0,
      diameterMm: 8,
      faceIds: [],
    };
    expect(causes([...LENGTH, counted], { ...OFF, count: 5 }, extra).map(({ message }) => message)).toEqual([
      'The model has 5 holes of diameter 8.0 mm, the sheet shows 4.',
      'length is 24.0 mm where the sheet says 20.0 mm.',
    ]);
  });

  it('are not extra where a check measured that very size on their faces', () => {
    const boss: Measurement['extra'][number] = { kind: 'boss', sizeMm: 22, faceIds: [7, 8] };
    const checks = (measured: number, faceIds: readonly number[]): Partial<Measurement> => ({
      extra: [boss],
      checks: [...measurement(OFF).checks, { checkId: 'boss', measured, faceIds: [...faceIds], referenceFaceIds: [] }],
    });
    const ids = (more: Partial<Measurement>) => causes([...LENGTH, target('boss', 22)], OFF, more).map(({ id }) => id);
    expect(ids(checks(22, [8]))).not.toContain('feature-extra');
    // Of another size, or on other faces, it is another one.
    expect(ids(checks(21, [8]))).toContain('feature-extra');
    expect(ids(checks(22, [3]))).toContain('feature-extra');
  });

  it('are not named where there are more than four, where hardly anything fits, or where nothing is wrong', () => {
    const four = [odd('slot', 1), odd('pocket', 2), odd('rib', 3), odd('chamfer', 4)];
    const ids = (values: Values, more: Partial<Measurement>) => causes(LENGTH, values, more).map(({ id }) => id);
    expect(ids(OFF, { missing: four })).toContain('feature-forgotten');
    expect(ids(OFF, { missing: [...four, odd('fillet', 5)] })).not.toContain('feature-forgotten');
    expect(ids({ length: 20 }, { missing: four })).toEqual([]);
    const badly = { ...measurement({}).frame, agreement: 0.29 };
    expect(ids(OFF, { missing: four, frame: badly })).not.toContain('feature-forgotten');
  });
});

describe('typed numbers', () => {
  const typed = (inputs: readonly TypedInput[], length: number) =>
    gradeMeasurement(
      reference([target('length', 20), VOLUME], ['mass', 'volume']),
      measurement({ length, volume: 10_000 }, { massProperties: properties }),
      { typed: inputs, policy: POLICY },
    ).causes.map(({ id, certainty, message }) => ({ id, certainty, message }));

  it('that are not of the file are named, more surely where the model is right', () => {
    const volume = { name: 'volume', text: '12345', unit: 'mm³' } as const;
    expect(typed([volume], 20)).toEqual([
      {
        id: 'typed-not-of-file',
        certainty: 0.85,
        message:
          'Volume: the typed number does not belong to the file that was handed in. Read it again from the model you exported, with the right unit.',
      },
    ]);
    expect(typed([volume], 24)[1]).toMatchObject({ id: 'typed-not-of-file', certainty: 0.55 });
    const both = typed([volume, { name: 'mass', text: '3', unit: 'g' }], 20);
    expect(both[0]?.message).toBe(
      'Mass, Volume: the typed numbers do not belong to the file that was handed in. Read them again from the model you exported, with the right unit.',
    );
  });

  it('of another material name it, with both densities', () => {
    // 10 cm3 of a steel of 7.85.
    expect(typed([{ name: 'mass', text: '78.5', unit: 'g' }], 20)).toEqual([
      {
        id: 'wrong-material',
        certainty: 0.92,
        message:
          'The typed mass is that of your volume in carbon steel (7.85 g/cm³). The exercise asks for 2.7 g/cm³: set the material and read the mass again.',
      },
    ]);
  });
});

it('the surest cause comes first', () => {
  const found = causes([target('a', 20), target('b', 9, { kind: 'diameter', members: [[0]] })], { a: 21.3, b: 4.5 });
  expect(found.map(({ certainty }) => certainty)).toEqual([0.95, 0.6]);
});

describe('a size that is told', () => {
  const angle = (degrees: number, checkId = 'lean'): Target => ({
    kind: 'angle',
    checkId,
    label: checkId,
    group: 'dimensions',
    weight: 1,
    expression: String(degrees),
    nominal: degrees,
    tolerance: 0.5,
    fromFaceIds: [0],
    toFaceIds: [1],
  });

  it('is in degrees where it is an angle, and no length is its neighbor', () => {
    expect(causes([angle(20), target('length', 25)], { lean: 25, length: 25 }).map(({ message }) => message)).toEqual([
      'lean is 25.00° where the sheet says 20.00°.',
    ]);
  });

  it('is not said to be on the sheet where it only follows from it', () => {
    const half: Target = { ...target('half', 38.5), offSheet: true };
    expect(causes([half], { half: 37.2 }).map(({ message }) => message)).toEqual([
      'half is 37.2 mm where 38.5 mm follows from the sheet.',
    ]);
    // Nor is its value one that could have been read off it.
    expect(causes([half, target('width', 50)], { half: 38.5, width: 38.5 })[0]?.id).toBe('wrong-size');
  });
});
