import type { Step } from './operations/index.ts';

/** The step that a surface was made by, of "base.end" "base". */
export const stepOfSurface = (name: string): string => name.split('.')[0] ?? name;

/** What a step is called. */
export function labelOf(step: Step | undefined, id: string): string {
  if (step?.label !== undefined) return step.label;
  const words = id.replace(/[-_]+/g, ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** "Bolts 2" for "bolts.2.wall": the feature with its number, and the side of it where it has several flat ones. */
export function surfaceWords(name: string, label: string): string {
  const [, ...roles] = name.split('.');
  const words = roles.filter((role) => role !== 'wall').join(' ');
  return words === '' ? label : /^\d+$/.test(words) ? `${label} ${words}` : `${label} (${words})`;
}

/** A surface as a check on it is called: "Bolts 2", "Foot upper". */
export function surfaceLabel(name: string, steps: readonly Step[]): string {
  const label = labelOf(
    steps.find(({ id }) => id === stepOfSurface(name)),
    stepOfSurface(name),
  );
  return surfaceWords(name, label).replace(/[()]/g, '');
}
