import { strToU8, zipSync } from 'fflate';

import type { DisplayMesh } from '#core/solid';

import type { Triangles } from './triangles.ts';
import { weldExact } from './weld.ts';

/** The triangles of a display mesh with equal corners joined. */
export const trianglesOf = (mesh: DisplayMesh): Triangles =>
  weldExact({ positions: Float64Array.from(mesh.positions), indices: Uint32Array.from(mesh.indices) });

/** Writes triangles as binary STL; lengths are divided by `unitMm`, as the format has no unit of its own. */
export function writeStl({ positions, indices }: Triangles, unitMm = 1): Uint8Array {
  const count = indices.length / 3;
  const bytes = new Uint8Array(84 + 50 * count);
  bytes.set(strToU8('Zorvet training part'));
  const view = new DataView(bytes.buffer);
  view.setUint32(80, count, true);
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 3; k++)
      for (let j = 0; j < 3; j++)
        view.setFloat32(
          84 + 50 * t + 12 + 12 * k + 4 * j,
          (positions[3 * (indices[3 * t + k] ?? 0) + j] ?? 0) / unitMm,
          true,
        );
  return bytes;
}

const CONTENT_TYPES =
  '<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>';
const RELATIONS =
  '<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>';

/** Writes each of the meshes as an object of a 3MF package in mm. */
export function write3mf(parts: readonly Triangles[], title: string): Uint8Array {
  const escaped = title.replace(/[&<>"]/g, (c) => `&#${String(c.charCodeAt(0))};`);
  const objects = parts.map(({ positions, indices }, i) => {
    const vertices: string[] = [];
    for (let v = 0; v < positions.length; v += 3)
      vertices.push(
        `<vertex x="${String(positions[v] ?? 0)}" y="${String(positions[v + 1] ?? 0)}" z="${String(positions[v + 2] ?? 0)}"/>`,
      );
    const triangles: string[] = [];
    for (let t = 0; t < indices.length; t += 3)
      triangles.push(
        `<triangle v1="${String(indices[t] ?? 0)}" v2="${String(indices[t + 1] ?? 0)}" v3="${String(indices[t + 2] ?? 0)}"/>`,
      );
    return `<object id="${String(i + 1)}" type="model"><mesh><vertices>${vertices.join('')}</vertices><triangles>${triangles.join('')}</triangles></mesh></object>`;
  });
  const items = parts.map((_, i) => `<item objectid="${String(i + 1)}"/>`).join('');
  const model = `<?xml version="1.0" encoding="UTF-8"?><model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><metadata name="Title">${escaped}</metadata><metadata name="Application">Zorvet</metadata><resources>${objects.join('')}</resources><build>${items}</build></model>`;
  return zipSync({
    '[Content_Types].xml': strToU8(CONTENT_TYPES),
    '_rels/.rels': strToU8(RELATIONS),
    '3D/3dmodel.model': strToU8(model),
  });
}
