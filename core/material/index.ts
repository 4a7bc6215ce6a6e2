/** Materials with the density that Zorvet uses, and where the value comes from. */

export interface Material {
  readonly id: string;
  readonly name: string;
  /** g/cm3 = 1e-3 g/mm3. */
  readonly densityGPerCm3: number;
  readonly source: string;
}

const HANDBOOK = 'common engineering-handbook value';

/** Densities as the usual mechanical-engineering handbooks print them; one name may differ by a percent between books. */
export const MATERIALS: readonly Material[] = [
  { id: 'steel-carbon', name: 'Carbon steel', densityGPerCm3: 7.85, source: HANDBOOK },
  { id: 'steel-alloy', name: 'Alloy steel', densityGPerCm3: 7.7, source: HANDBOOK },
  { id: 'steel-stainless', name: 'Stainless steel', densityGPerCm3: 8.0, source: HANDBOOK },
  { id: 'iron-cast', name: 'Gray cast iron', densityGPerCm3: 7.2, source: HANDBOOK },
  { id: 'aluminum', name: 'Aluminum alloy', densityGPerCm3: 2.7, source: HANDBOOK },
  { id: 'brass', name: 'Brass', densityGPerCm3: 8.5, source: HANDBOOK },
  { id: 'bronze', name: 'Tin bronze', densityGPerCm3: 8.8, source: HANDBOOK },
  { id: 'titanium', name: 'Titanium alloy', densityGPerCm3: 4.43, source: HANDBOOK },
  { id: 'acetal', name: 'Acetal', densityGPerCm3: 1.41, source: HANDBOOK },
  { id: 'abs', name: 'ABS', densityGPerCm3: 1.04, source: HANDBOOK },
];

/** Density of water, the value that many modelers use when no material was set. */
export const UNSET_DENSITY_G_PER_CM3 = 1;

export const findMaterial = (id: string): Material | undefined => MATERIALS.find((material) => material.id === id);

/** Mass in g of a volume in mm3. */
export const massOf = (volumeMm3: number, densityGPerCm3: number): number => (volumeMm3 * densityGPerCm3) / 1000;
