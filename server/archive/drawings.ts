import { promisify } from 'node:util';
import { inflate } from 'node:zlib';

import { refuse, succeed, type Result } from '#core/problem';

const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
const MOST_PIXELS = 5000;
/** Color types without transparency, and how many bytes a pixel takes (PNG specification, 11.2.2). */
const PIXEL_BYTES: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1 };

/** Which kind of drawing a file is, by what it begins with; null for another. */
export function drawingKind(content: Uint8Array): 'pdf' | 'png' | 'svg' | null {
  const start = Buffer.from(content.subarray(0, 1024)).toString('latin1');
  if (start.startsWith('%PDF-')) return 'pdf';
  if (PNG.equals(content.subarray(0, 8))) return 'png';
  return /^(\u00ef\u00bb\u00bf)?\s*</.test(start) && Buffer.from(content).includes('<svg') ? 'svg' : null;
}

/** Whether a picture of a page is whole, and can be put into a PDF as it is. Refuses with `bad-picture`. */
export async function soundPage(content: Uint8Array): Promise<Result<null>> {
  const bad = (why: string) => refuse('bad-picture', `The picture of the page cannot be used: ${why}.`);
  const bytes = Buffer.from(content);
  if (!PNG.equals(bytes.subarray(0, 8)) || bytes.length < 57) return bad('it is not a PNG file');
  const [width, height] = [bytes.readUInt32BE(16), bytes.readUInt32BE(20)];
  const [depth, color, interlaced] = [bytes.readUInt8(24), bytes.readUInt8(25), bytes.readUInt8(28)];
  const pixel = PIXEL_BYTES[color];
  if (depth !== 8 || pixel === undefined || interlaced !== 0)
    return bad('it is transparent or interlaced; 8 bits a color and no transparency are needed');
  if (width < 1 || height < 1 || width > MOST_PIXELS || height > MOST_PIXELS)
    return bad(`it is larger than ${String(MOST_PIXELS)} pixels`);
  const data: Buffer[] = [];
  for (let at = 8; at + 12 <= bytes.length;) {
    const size = bytes.readUInt32BE(at);
    const kind = bytes.toString('latin1', at + 4, at + 8);
    if (kind === 'IDAT') data.push(bytes.subarray(at + 8, at + 8 + size));
    at += 12 + size;
  }
  const wanted = height * (1 + width * pixel);
  try {
    const raw = await promisify<Buffer, { maxOutputLength: number }, Buffer>(inflate)(Buffer.concat(data), {
      maxOutputLength: wanted + 1,
    });
    return raw.length === wanted ? succeed(null) : bad('it is cut off');
  } catch {
    return bad('it is damaged');
  }
}
