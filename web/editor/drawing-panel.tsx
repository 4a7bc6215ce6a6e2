import { useState } from 'react';
import { toast } from 'sonner';

import type { UploadedDrawing } from '#core/exercise';
import { failureText, useUploadDrawingMutation } from '#web/api';
import { Button, FileButton, Panel, plural } from '#web/ui';

import type { PutSheet } from './sheet-arrange.ts';

/** A drawing that was made elsewhere in place of the one that is made from the part. */
export function DrawingPanel({
  id,
  drawing,
  onPut,
}: {
  readonly id: number;
  readonly drawing: UploadedDrawing | undefined;
  readonly onPut: PutSheet;
}) {
  const [upload] = useUploadDrawingMutation();
  const [doing, setDoing] = useState<string | null>(null);
  const choose = async (file: File): Promise<void> => {
    try {
      setDoing('Reading the drawing ...');
      const { pagesOfDrawing } = await import('./drawing-pages.ts');
      const pages = await pagesOfDrawing(file);
      const { sha256, fileName } = await upload({ id, part: 'drawings', name: file.name, content: file }).unwrap();
      const stored: UploadedDrawing['pages'][number][] = [];
      for (const [i, { picture, widthMm, heightMm }] of pages.entries()) {
        setDoing(`Sending page ${String(i + 1)} of ${String(pages.length)} ...`);
        const page = await upload({ id, part: 'pages', name: 'page.png', content: picture }).unwrap();
        stored.push({ sha256: page.sha256, widthMm, heightMm });
      }
      onPut((before) => ({ ...before, drawing: { sha256, fileName, pages: stored } }), 'drawing');
    } catch (error) {
      toast.error(error instanceof Error ? error.message : failureText(error), { duration: 12_000 });
    } finally {
      setDoing(null);
    }
  };
  return (
    <Panel title={drawing === undefined ? 'Or a drawing made elsewhere' : drawing.fileName}>
      <p className="px-3 pt-2 text-sm text-soft">
        {drawing === undefined
          ? 'A PDF, PNG or SVG file that students get in place of this sheet. The checks stay as they are.'
          : `${plural(drawing.pages.length, 'page')}, in place of the sheet that is made from the part. Whether it gives every size is for you to see.`}
      </p>
      <span className="flex flex-wrap gap-2 px-3 py-2">
        <FileButton
          label="Drawing made elsewhere"
          accept=".pdf,.png,.svg"
          testId="drawing-file"
          disabled={doing !== null}
          onFile={(file) => void choose(file)}
        >
          {doing ?? (drawing === undefined ? 'Choose a drawing' : 'Another drawing')}
        </FileButton>
        {drawing !== undefined && (
          <>
            <a
              className="self-center underline"
              href={`/api/exercises/${String(id)}/files/${drawing.sha256}`}
              download={drawing.fileName}
            >
              The file
            </a>
            <Button onClick={() => onPut(({ drawing: _, ...rest }) => rest, 'drawing')}>
              Draw it from the part instead
            </Button>
          </>
        )}
      </span>
    </Panel>
  );
}
