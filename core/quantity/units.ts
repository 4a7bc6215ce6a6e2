import * as v from 'valibot';

/** Factor to mm. */
export const LENGTH_UNITS = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 } as const;
/** Factor to g. The pound is 453.59237 g by international agreement (1959). */
export const MASS_UNITS = { g: 1, kg: 1000, lb: 453.59237, oz: 453.59237 / 16 } as const;
/** Factor to mm3. */
export const VOLUME_UNITS = { 'mm³': 1, 'cm³': 1e3, 'in³': 25.4 ** 3 } as const;
/** Factor to mm2. */
export const AREA_UNITS = { 'mm²': 1, 'cm²': 100, 'in²': 25.4 ** 2 } as const;

export type LengthUnit = keyof typeof LENGTH_UNITS;
export type MassUnit = keyof typeof MASS_UNITS;
export type VolumeUnit = keyof typeof VOLUME_UNITS;
export type AreaUnit = keyof typeof AREA_UNITS;
export type Unit = LengthUnit | MassUnit | VolumeUnit | AreaUnit;

export const LengthUnitSchema = v.picklist(['mm', 'cm', 'm', 'in', 'ft']);
/** Units a part is drawn in. */
export const DrawingUnitSchema = v.picklist(['mm', 'in']);
export type DrawingUnit = v.InferOutput<typeof DrawingUnitSchema>;

export type QuantityKind = 'length' | 'mass' | 'volume' | 'area';

const TABLES: Readonly<Record<QuantityKind, Readonly<Record<string, number>>>> = {
  length: LENGTH_UNITS,
  mass: MASS_UNITS,
  volume: VOLUME_UNITS,
  area: AREA_UNITS,
};

const SPELLINGS: Readonly<Record<string, Unit>> = {
  '"': 'in',
  inch: 'in',
  inches: 'in',
  mm3: 'mm³',
  cm3: 'cm³',
  in3: 'in³',
  'mm^3': 'mm³',
  'cm^3': 'cm³',
  'in^3': 'in³',
  mm2: 'mm²',
  cm2: 'cm²',
  in2: 'in²',
  'mm^2': 'mm²',
  'cm^2': 'cm²',
  'in^2': 'in²',
  gram: 'g',
  grams: 'g',
  lbs: 'lb',
  pound: 'lb',
  pounds: 'lb',
};

/** Units of a kind, in the order in which a form offers them. */
export const unitsOf = (kind: QuantityKind): readonly string[] => Object.keys(TABLES[kind]);

/** The unit a person meant by `text` ("in3", "lbs", "\""), or null when it is none of `kind`. */
export function recognizeUnit(text: string, kind: QuantityKind): string | null {
  const plain = text.trim().toLowerCase();
  const unit = SPELLINGS[plain] ?? plain;
  return Object.hasOwn(TABLES[kind], unit) ? unit : null;
}

/** Factor from `unit` to the base unit of `kind` (mm, g, mm3, mm2). Unknown units give NaN. */
export const unitFactor = (unit: string, kind: QuantityKind): number => TABLES[kind][unit] ?? Number.NaN;

/** Units in which a part drawn in `unit` states its properties. */
export const propertyUnits = (unit: DrawingUnit) =>
  unit === 'mm'
    ? ({ length: 'mm', area: 'mm²', volume: 'mm³', mass: 'g' } as const)
    : ({ length: 'in', area: 'in²', volume: 'in³', mass: 'lb' } as const);
