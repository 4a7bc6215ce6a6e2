import * as v from 'valibot';

import { saysWhere } from '#core/check';
import type { Exercise } from '#core/exercise';

import type { Atlas, AtlasEntry } from './atlas.ts';
import { farthest, scalesOf } from '#core/solid';
import { MistakeSchema } from './mistake.ts';

const CoverageRowSchema = v.object({
  mistake: MistakeSchema,
  /** Checks with weight that it fails. */
  caughtBy: v.array(v.string()),
  /** How far it is from the right part, as a share: small ones hide inside tolerances. */
  change: v.number(),
});
export type CoverageRow = v.InferOutput<typeof CoverageRowSchema>;

/** Which check catches which mistake, and what no check sees. */
export const CoverageSchema = v.object({
  /** Share of the likely mistakes that some check with weight catches, 0 to 1. */
  score: v.number(),
  /** The same for checks of dimensions and features alone, which say where. */
  located: v.number(),
  rows: v.array(CoverageRowSchema),
  /** Mistakes that no check catches, the likeliest first. */
  blind: v.array(CoverageRowSchema),
  /** Checks without which every mistake would still be caught by another that says where. */
  idle: v.array(v.string()),
  /** Mistakes whose volume and center of mass are the same to a reader. */
  alike: v.array(v.array(v.string())),
  /** Mistakes that leave the volume as it is, within the tolerance of its check. */
  keepVolume: v.array(v.string()),
  counts: v.object({ entries: v.number(), unchanged: v.number(), unbuilt: v.number() }),
});
export type Coverage = v.InferOutput<typeof CoverageSchema>;

/** Volumes within this share of each other are read as the same. */
const ALIKE_SHARE = 2e-4;

/** Tests a check plan as software is tested: with every mistake of the atlas. */
export function coverageOf(exercise: Exercise, atlas: Atlas): Coverage {
  const weighty = exercise.checks.filter(({ weight, off }) => weight > 0 && off !== true);
  const ids = new Set(weighty.map(({ id }) => id));
  const saying = new Set(weighty.filter(saysWhere).map(({ id }) => id));
  const scales = scalesOf(atlas.reference.fingerprint);
  const rows = atlas.entries.map((entry): CoverageRow => ({
    mistake: entry.mistake,
    caughtBy: entry.failing.filter((id) => ids.has(id)),
    change: farthest(entry.fingerprint, atlas.reference.fingerprint, scales),
  }));
  const share = (isCaught: (row: CoverageRow) => boolean): number => {
    const total = rows.reduce((sum, { mistake }) => sum + mistake.prior, 0);
    const caught = rows.filter(isCaught).reduce((sum, { mistake }) => sum + mistake.prior, 0);
    return total === 0 ? 1 : caught / total;
  };
  const blind = rows.filter(({ caughtBy }) => caughtBy.length === 0).sort((a, b) => b.mistake.prior - a.mistake.prior);
  const idle = weighty
    .filter(({ id }) => {
      const own = rows.filter(({ caughtBy }) => caughtBy.includes(id));
      return own.every(({ caughtBy }) => caughtBy.some((other) => other !== id && saying.has(other)));
    })
    .filter(({ id }) => saying.has(id))
    .map(({ id }) => id);
  return {
    score: share(({ caughtBy }) => caughtBy.length > 0),
    located: share(({ caughtBy }) => caughtBy.some((id) => saying.has(id))),
    rows,
    blind,
    idle,
    alike: alikeIn(atlas.entries),
    keepVolume: keepingVolume(exercise, atlas),
    counts: { entries: atlas.entries.length, unchanged: atlas.unchanged.length, unbuilt: atlas.unbuilt.length },
  };
}

/** Groups of mistakes whose volume and center of mass are the same to a reader. */
function alikeIn(entries: readonly AtlasEntry[]): string[][] {
  const groups: { readonly entry: AtlasEntry; readonly ids: string[] }[] = [];
  for (const entry of entries) {
    const group = groups.find(({ entry: other }) => sameToReader(entry, other));
    if (group) group.ids.push(entry.mistake.id);
    else groups.push({ entry, ids: [entry.mistake.id] });
  }
  return groups.filter(({ ids }) => ids.length > 1).map(({ ids }) => ids);
}

function sameToReader(a: AtlasEntry, b: AtlasEntry): boolean {
  const [volume = 1] = a.fingerprint;
  const [other = 1] = b.fingerprint;
  if (Math.abs(volume - other) > ALIKE_SHARE * volume) return false;
  const size = Math.max(...a.sizeMm);
  return [2, 3, 4].every(
    (i) => Math.abs((a.fingerprint[i] ?? 0) / volume - (b.fingerprint[i] ?? 0) / other) < ALIKE_SHARE * size,
  );
}

function keepingVolume(exercise: Exercise, atlas: Atlas): string[] {
  const check = exercise.checks.find(({ kind, off }) => (kind === 'volume' || kind === 'mass') && off !== true);
  const percent = check !== undefined && 'tolerancePercent' in check ? check.tolerancePercent : 0.5;
  const [volume = 1] = atlas.reference.fingerprint;
  return atlas.entries
    .filter(({ fingerprint: [own = 0] }) => Math.abs(own - volume) <= (volume * percent) / 100)
    .map(({ mistake }) => mistake.id);
}
