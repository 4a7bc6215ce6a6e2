/** Zips that are packed while they are sent. */
import { Zip, ZipPassThrough } from 'fflate';

export interface BundleEntry {
  readonly name: string;
  readonly content: () => Promise<Uint8Array>;
}

/**
 * Packs one entry after the other, without compressing: models of hundreds of megabytes never lie in memory together. Where an
 * entry cannot be read, a text of its name says so in its place; or the stream fails, where only the `whole` is of use.
 */
export function bundle(
  entries: Iterable<BundleEntry>,
  { whole = false }: { readonly whole?: boolean } = {},
): ReadableStream<Uint8Array> {
  const left = entries[Symbol.iterator]();
  let zip: Zip;
  return new ReadableStream<Uint8Array>({
    start(controller) {
      zip = new Zip((error, piece, isLast) => {
        if (error !== null) {
          controller.error(error);
          return;
        }
        controller.enqueue(piece);
        if (isLast) controller.close();
      });
    },
    async pull() {
      const next = left.next();
      if (next.done === true) {
        zip.end();
        return;
      }
      const entry = next.value;
      const add = (name: string, content: Uint8Array): void => {
        const file = new ZipPassThrough(name);
        zip.add(file);
        file.push(content, true);
      };
      try {
        add(entry.name, await entry.content());
      } catch (error) {
        if (whole) {
          left.return?.();
          throw error;
        }
        add(
          `${entry.name} could not be read.txt`,
          new TextEncoder().encode('The file could not be read from the disk.'),
        );
      }
    },
    cancel() {
      // What the entries hold on to is let go.
      left.return?.();
      zip.terminate();
    },
  });
}
