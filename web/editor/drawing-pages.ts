import type { PDFDocumentProxy } from 'pdfjs-dist';
import workerUrl from 'pdfjs-dist/build/pdf.worker.min.mjs?url';

/** A page of a drawing as a picture, with its size on paper. */
export interface DrawingPage {
  readonly picture: Blob;
  readonly widthMm: number;
  readonly heightMm: number;
}

const MM_PER_POINT = 25.4 / 72;
/** Fine enough that a thin line is printed as one. */
const DOTS_PER_MM = 200 / 25.4;
const MOST_PIXELS = 4800;
const MOST_PAGES = 12;
/** Long side of a drawing that does not say how large it is. */
const LONG_SIDE_MM = 420;
const MM_PER_CSS_PIXEL = 25.4 / 96;

/**
 * The pages of a drawing as pictures: those of a PDF at 200 dots an inch, an SVG likewise, a PNG as it is. Throws an error
 * with a sentence for people when the file cannot be shown.
 */
export async function pagesOfDrawing(file: File): Promise<readonly DrawingPage[]> {
  const start = new TextDecoder('latin1').decode(await file.slice(0, 5).arrayBuffer());
  if (start.startsWith('%PDF-')) return pagesOfPdf(new Uint8Array(await file.arrayBuffer()));
  return [await pageOfPicture(file)];
}

async function pagesOfPdf(data: Uint8Array): Promise<readonly DrawingPage[]> {
  const { getDocument, GlobalWorkerOptions } = await import('pdfjs-dist');
  GlobalWorkerOptions.workerSrc = workerUrl;
  let pdf: PDFDocumentProxy;
  try {
    pdf = await getDocument({ data, isEvalSupported: false }).promise;
  } catch {
    throw new Error('The PDF file cannot be read: it is damaged, or asks for a password. Write it anew and try again.');
  }
  try {
    if (pdf.numPages > MOST_PAGES)
      throw new Error(`The PDF file has ${String(pdf.numPages)} pages; a drawing may have ${String(MOST_PAGES)}.`);
    const pages: DrawingPage[] = [];
    for (let number = 1; number <= pdf.numPages; number++) {
      const page = await pdf.getPage(number);
      const size = page.getViewport({ scale: 1 });
      const [widthMm, heightMm] = [size.width * MM_PER_POINT, size.height * MM_PER_POINT];
      const viewport = page.getViewport({ scale: scaleFor(widthMm, heightMm) * MM_PER_POINT });
      const { canvas, context } = paper(viewport.width, viewport.height);
      await page.render({ canvasContext: context, viewport }).promise;
      pages.push({ picture: await pictureOf(canvas), widthMm, heightMm });
    }
    return pages;
  } finally {
    await pdf.destroy();
  }
}

/** Pixels a millimeter: fewer for paper that would be too large. */
const scaleFor = (widthMm: number, heightMm: number): number =>
  Math.min(DOTS_PER_MM, MOST_PIXELS / Math.max(widthMm, heightMm));

async function pageOfPicture(file: File): Promise<DrawingPage> {
  const vector = /svg/i.test(file.type) || /\.svg$/i.test(file.name);
  // As an image, the file runs no script and fetches nothing.
  const url = URL.createObjectURL(vector ? new Blob([file], { type: 'image/svg+xml' }) : file);
  try {
    const image = new Image();
    image.src = url;
    await image.decode().catch(() => {
      throw new Error('The file cannot be shown as a drawing. Choose a PDF, PNG or SVG file.');
    });
    // An SVG without a size of its own is shown square and large enough to be read.
    const [width, height] = [image.naturalWidth || 1000, image.naturalHeight || 1000];
    const grow = vector ? MM_PER_CSS_PIXEL : LONG_SIDE_MM / Math.max(width, height);
    const [widthMm, heightMm] = [Math.max(20, width * grow), Math.max(20, height * grow)];
    const pixels = vector ? scaleFor(widthMm, heightMm) * grow : Math.min(1, MOST_PIXELS / Math.max(width, height));
    const { canvas, context } = paper(width * pixels, height * pixels);
    context.drawImage(image, 0, 0, canvas.width, canvas.height);
    return { picture: await pictureOf(canvas), widthMm, heightMm };
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** White paper without transparency. */
function paper(width: number, height: number) {
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(width));
  canvas.height = Math.max(1, Math.round(height));
  const context = canvas.getContext('2d', { alpha: false });
  if (context === null) throw new Error('The browser has no room for a picture of this size.');
  context.fillStyle = '#fff';
  context.fillRect(0, 0, canvas.width, canvas.height);
  return { canvas, context };
}

const pictureOf = (canvas: HTMLCanvasElement): Promise<Blob> =>
  new Promise((resolve, reject) => {
    canvas.toBlob((blob) => {
      if (blob === null) reject(new Error('The browser could not make a picture of the page.'));
      else resolve(blob);
    }, 'image/png');
  });
