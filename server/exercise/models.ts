import type { ModelFile } from '#core/exercise';
import { detectFormat } from '#core/model';
import { refuse, succeed, type Result } from '#core/problem';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';

/** Model files that are the reference of exercises in place of a recipe. */
export interface Models {
  /** Stores a file for an exercise. Refuses with `unknown-format`. */
  put(exerciseId: number, fileName: string, content: Uint8Array): Promise<Result<ModelFile>>;
  /** Whether a file was uploaded for this exercise. */
  has(exerciseId: number, sha256: string): boolean;
}

/** Ending of a file name without the dot, in small letters; "bin" for a name without one. */
export const extensionOf = (fileName: string): string =>
  /\.([a-z0-9]{1,5})$/.exec(fileName.toLowerCase())?.[1] ?? 'bin';

export function createModels(db: Db, files: FileStore, now: () => Date): Models {
  const insert = db.prepare<[number, string, string, string]>(
    'INSERT INTO exercise_models (exercise_id, sha256, file_name, uploaded_at) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING',
  );
  const find = db.prepare<[number, string], { yes: number }>(
    'SELECT 1 AS yes FROM exercise_models WHERE exercise_id = ? AND sha256 = ?',
  );
  return {
    async put(exerciseId, fileName, content) {
      if (detectFormat(content, fileName) === null)
        return refuse(
          'unknown-format',
          'This is not a model file that can be read. Choose a STEP, STL, OBJ or 3MF file.',
        );
      const { sha256 } = await files.put(content);
      insert.run(exerciseId, sha256, fileName, now().toISOString());
      return succeed({ sha256, fileName, unit: null });
    },
    has: (exerciseId, sha256) => find.get(exerciseId, sha256) !== undefined,
  };
}
