/** One thing that was read off a model. `uncertaintyMm` covers what triangles leave open; 0 for exact geometry. */
export type Reading =
  | { readonly kind: 'length'; readonly label: string; readonly lengthMm: number; readonly uncertaintyMm: number }
  | { readonly kind: 'angle'; readonly label: string; readonly angleRad: number }
  | { readonly kind: 'area'; readonly label: string; readonly areaMm2: number }
  /** What is no number: "in one plane". */
  | { readonly kind: 'words'; readonly label: string };

export const lengthOf = (label: string, lengthMm: number, uncertaintyMm = 0): Reading => ({
  kind: 'length',
  label,
  lengthMm,
  uncertaintyMm,
});
export const angleOf = (label: string, angleRad: number): Reading => ({ kind: 'angle', label, angleRad });
export const words = (label: string): Reading => ({ kind: 'words', label });
