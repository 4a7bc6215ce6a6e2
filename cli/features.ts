import { type Feature } from '#core/feature';

const degrees = (angleRad: number): number => (angleRad * 180) / Math.PI;

/** A feature as `zorvet inspect --json` has it: lengths in mm, angles in degrees, names with underscores. */
export function featureJson(feature: Feature): Record<string, unknown> {
  return Object.fromEntries(Object.entries(feature).map(([name, value]) => entryJson(name, value)));
}

function entryJson(name: string, value: unknown): readonly [string, unknown] {
  if (name === 'faceIds') return ['faces', value];
  if (name === 'onFaceIds') return ['on_faces', value];
  if (name === 'entryFaceId') return ['entry_face', value];
  const plain = name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
  if (name.endsWith('Rad') && typeof value === 'number') return [plain.replace(/_rad$/, '_deg'), degrees(value)];
  if (name === 'origin') return ['origin_mm', value];
  if (typeof value === 'object' && value !== null && !Array.isArray(value))
    return [plain, Object.fromEntries(Object.entries(value).map(([key, inner]) => entryJson(key, inner)))];
  return [plain, value];
}

const mm = (value: number): string => String(Number(value.toFixed(3)));

/** A feature in a few words, for people. */
export function featureText(feature: Feature): string {
  switch (feature.kind) {
    case 'hole': {
      const parts = [
        `diameter ${mm(feature.diameterMm)}`,
        feature.through ? 'through' : `depth ${mm(feature.depthMm)}, ${feature.bottom} bottom`,
        feature.counterbore && `counterbore ${mm(feature.counterbore.diameterMm)} x ${mm(feature.counterbore.depthMm)}`,
        feature.countersink &&
          `countersink ${mm(feature.countersink.diameterMm)} at ${mm(degrees(feature.countersink.angleRad))} degrees`,
        feature.broken && 'cut open by an edge',
        feature.cross && 'ends in another hole',
      ];
      return `hole ${parts.filter(Boolean).join(', ')}`;
    }
    case 'slotted-hole':
      return `slotted hole ${mm(feature.lengthMm)} x ${mm(feature.widthMm)}, ${feature.through ? 'through' : `depth ${mm(feature.depthMm)}`}`;
    case 'boss':
      return `boss diameter ${mm(feature.diameterMm)}, height ${mm(feature.heightMm)}`;
    case 'pocket':
      return `pocket ${feature.through ? 'through' : `depth ${mm(feature.depthMm)}`}`;
    case 'slot':
      return `slot width ${mm(feature.widthMm)}, depth ${mm(feature.depthMm)}`;
    case 'step':
      return `step ${mm(feature.depthMm)}`;
    case 'groove':
      return `${feature.internal ? 'internal ' : ''}groove diameter ${mm(feature.diameterMm)}, width ${mm(feature.widthMm)}`;
    case 'rib':
      return `rib thickness ${mm(feature.thicknessMm)}`;
    case 'fillet':
      return `${feature.side} fillet radius ${mm(feature.radiusMm)} (${String(feature.faceIds.length)} faces)`;
    case 'full-round':
      return `full round radius ${mm(feature.radiusMm)}`;
    case 'chamfer':
      return `chamfer ${feature.sizesMm.map(mm).join(' x ')}`;
    case 'thread':
      return `thread diameter ${mm(feature.majorDiameterMm)}, length ${mm(feature.lengthMm)}, pitch ${mm(feature.pitchMm)}`;
    case 'bolt-circle':
      return `bolt circle diameter ${mm(feature.diameterMm)}: ${String(feature.count)} holes of ${mm(feature.holeDiameterMm)}${feature.missing > 0 ? `, ${String(feature.missing)} of ${String(feature.positions)} positions left out` : ''}`;
    case 'row':
      return `row of ${String(feature.count)} holes of ${mm(feature.holeDiameterMm)}, pitch ${mm(feature.pitchMm)}`;
    case 'mirrored-twins':
      return `mirrored pair of holes of ${mm(feature.holeDiameterMm)}`;
    case 'turned-body':
      return `turned body (${mm(100 * feature.share)} % of the surface)`;
    case 'symmetry-plane':
      return `symmetric about a plane with normal ${feature.normal.map(mm).join(', ')}`;
  }
}
