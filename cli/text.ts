import type { BuildLog } from '#core/buildlog';
import { findFeatures } from '#core/feature';
import type { Report } from '#core/grade';
import type { Coverage, NumbersAnswer } from '#core/mistake';
import { formatFixed, LENGTH_UNITS } from '#core/quantity';
import { boxSize, type Vec3 } from '#core/vector';
import type { Solid } from '#core/solid';

import { featureText } from './features.ts';
import type { Determined } from './json.ts';

const vector = (value: Vec3): string => value.map((x) => formatFixed(x, 4)).join(', ');

/** `zorvet inspect` for people. */
export function inspectText(name: string, solid: Solid): string {
  const { volumeMm3, areaMm2, centroidMm } = solid.massProperties;
  return [
    `${name}: ${solid.source.productName ?? 'no product name'}`,
    `declared unit    ${solid.source.declaredUnit ?? 'none'}`,
    `bodies           ${String(solid.bodies)} (${solid.closed ? 'closed' : 'not closed'}, ${solid.valid ? 'valid' : 'faulty geometry'})`,
    `size             ${vector(boxSize(solid.bounds))} mm`,
    `volume           ${formatFixed(volumeMm3, 4)} mm³`,
    `surface area     ${formatFixed(areaMm2, 4)} mm²`,
    `center of mass   ${vector(centroidMm)} mm`,
    `faces            ${String(solid.faces.length)}`,
    ...findFeatures(solid).map((feature) => `  ${featureText(feature)}`),
    ...solid.warnings.map((warning) => `! ${warning.message}`),
  ].join('\n');
}

/** `zorvet grade` for people, lengths in the unit of the drawing. */
export function gradeText(report: Report, unread: BuildLog['unread'] = []): string {
  const factor = LENGTH_UNITS[report.unit];
  const show = (value: number | null, isLength: boolean): string =>
    value === null ? '-' : formatFixed(isLength ? value / factor : value, 4);
  const rows = report.lines.map((line) => {
    const isLength = line.quantity === 'length' || line.quantity === 'point';
    return [
      line.verdict.padEnd(8),
      line.label.padEnd(38),
      `nominal ${show(line.nominal, isLength)}`,
      `measured ${show(line.measured, isLength)}`,
    ].join(' ');
  });
  const causes = report.causes.map(
    (cause) => `- ${cause.instead ? 'or: ' : ''}${cause.message} (${String(Math.round(cause.certainty * 100))} %)`,
  );
  return [
    `Score ${String(report.score)} of 100`,
    ...(report.cap === null ? [] : [report.cap]),
    ...rows,
    ...(causes.length > 0 ? ['', 'Probable causes', ...causes] : []),
    ...(report.rules.length > 0
      ? [
          '',
          'Build rules',
          ...report.rules.map(({ verdict, text, evidence }) => `${verdict.padEnd(8)} ${text} ${evidence}`),
        ]
      : []),
    ...report.questions.map((question) => `? ${question}`),
    ...unread.map(({ line, text }) => `! Line ${String(line)} of the steps was not understood: "${text}"`),
    ...report.warnings.map((warning) => `! ${warning.message}`),
  ].join('\n');
}

const percent = (share: number): string => `${String(Math.round(share * 100))} %`;

/** `zorvet explain` for people. */
export const explainText = ({ right, causes }: NumbersAnswer): string =>
  right
    ? 'These are the numbers of the right part.'
    : causes.length === 0
      ? 'No mistake that is known explains these numbers.'
      : ['What it may be:', ...causes.map(({ certainty, message }) => `- ${message} (${percent(certainty)})`)].join(
          '\n',
        );

/** `zorvet coverage` for people. */
export function coverageText({ score, located, rows, blind, idle, keepVolume, counts }: Coverage): string {
  if (counts.entries === 0)
    return 'No mistake could be made in this part, so that how far its check plan can be trusted is not known.';
  return [
    `${percent(score)} of the likely mistakes are caught; ${percent(located)} by a check that says where.`,
    `${String(counts.entries)} mistakes change the part, ${String(counts.unchanged)} do not, ${String(counts.unbuilt)} cannot be built.`,
    ...(blind.length === 0 ? [] : ['', 'Caught by no check:', ...blind.map(({ mistake }) => `- ${mistake.summary}`)]),
    ...(idle.length === 0 ? [] : ['', `Checks that never decide anything alone: ${idle.join(', ')}`]),
    ...(keepVolume.length === 0
      ? []
      : [
          '',
          `${String(keepVolume.length)} mistakes leave the volume within its tolerance:`,
          ...rows.filter(({ mistake }) => keepVolume.includes(mistake.id)).map(({ mistake }) => `- ${mistake.summary}`),
        ]),
  ].join('\n');
}

/** What sheet and plan leave open, for people; a line each. */
export function determinacyText(
  open: Determined | null,
  parts: readonly ('undetermined' | 'redundant' | 'unchecked')[],
): readonly string[] {
  if (open === null) return ['A part from a file has no numbers to vary: what is left open is not known.'];
  const lines = {
    undetermined: open.undetermined.map(({ what, proposal }) =>
      proposal === null
        ? `Nothing on the sheet says ${what}.`
        : `Nothing on the sheet says ${what}. "${proposal.label}" would say it.`,
    ),
    redundant: open.redundant.map(({ message }) => message),
    unchecked: open.unchecked.map(({ what }) => `No check decides ${what}.`),
  };
  return parts.flatMap((part) => lines[part]);
}
