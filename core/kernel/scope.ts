/** Anything that lives in the kernel's memory and must be freed by hand. */
export interface Freeable {
  delete(): void;
}

export type Keep = <T extends Freeable>(object: T) => T;

/**
 * Runs `work` and then frees every kernel object that was passed through `keep`, last first, also after an exception.
 * What `work` returns must be plain data or an object that was not kept.
 */
export function scoped<T>(work: (keep: Keep) => T): T {
  const kept: Freeable[] = [];
  try {
    return work((object) => {
      kept.push(object);
      return object;
    });
  } finally {
    for (const object of kept.reverse()) object.delete();
  }
}
