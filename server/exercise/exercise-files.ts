import type { FileOfExercise, ModelFile } from '#core/exercise';
import { detectFormat, formatNames } from '#core/model';
import { refuse, succeed, type Result } from '#core/problem';
import { drawingKind, soundPage } from '#server/archive';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';

/** Files that belong to an exercise beside its document: model files and uploaded drawings. */
export interface ExerciseFiles {
  /** Stores a model file that is the reference in place of a recipe. Refuses with `unknown-format`. */
  putModel(exerciseId: number, fileName: string, content: Uint8Array): Promise<Result<ModelFile>>;
  /** Stores a drawing, as it was uploaded. Refuses with `unknown-format`. */
  putDrawing(exerciseId: number, fileName: string, content: Uint8Array): Promise<Result<FileOfExercise>>;
  /** Stores the picture of a page of a drawing. Refuses with `bad-picture`. */
  putPage(exerciseId: number, content: Uint8Array): Promise<Result<FileOfExercise>>;
  /** Stores a file whose kind was looked at before. */
  adopt(exerciseId: number, fileName: string, content: Uint8Array): Promise<FileOfExercise>;
  /** Whether a file was uploaded for this exercise. */
  has(exerciseId: number, sha256: string): boolean;
}

export function createExerciseFiles(db: Db, files: FileStore, now: () => Date): ExerciseFiles {
  const insert = db.prepare<[number, string, string, string]>(
    'INSERT INTO exercise_files (exercise_id, sha256, file_name, uploaded_at) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING',
  );
  const find = db.prepare<[number, string], { yes: number }>(
    'SELECT 1 AS yes FROM exercise_files WHERE exercise_id = ? AND sha256 = ?',
  );
  const adopt: ExerciseFiles['adopt'] = async (exerciseId, fileName, content) => {
    const { sha256 } = await files.put(content);
    insert.run(exerciseId, sha256, fileName, now().toISOString());
    return { sha256, fileName };
  };
  return {
    adopt,
    async putModel(exerciseId, fileName, content) {
      if (detectFormat(content, fileName) === null)
        return refuse(
          'unknown-format',
          `This is not a model file that can be read. Choose a file of another format: ${formatNames()}.`,
        );
      return succeed({ ...(await adopt(exerciseId, fileName, content)), unit: null });
    },
    async putDrawing(exerciseId, fileName, content) {
      if (drawingKind(content) === null)
        return refuse('unknown-format', 'This is not a drawing that can be shown. Choose a PDF, PNG or SVG file.');
      return succeed(await adopt(exerciseId, fileName, content));
    },
    async putPage(exerciseId, content) {
      const sound = await soundPage(content);
      return sound.ok ? succeed(await adopt(exerciseId, 'page.png', content)) : sound;
    },
    has: (exerciseId, sha256) => find.get(exerciseId, sha256) !== undefined,
  };
}
