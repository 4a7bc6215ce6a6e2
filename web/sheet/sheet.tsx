import { Minus, Plus } from 'lucide-react';
import { useState } from 'react';

import { useSheetQuery } from '#web/api';
import { Failed, Loading } from '#web/ui';

const ZOOMS = [1, 1.5, 2, 3, 4];

/** The drawing sheet, always black on white, sharp at any zoom; dimensions of `marked` checks stand out. */
export function SheetView({ url, marked = '' }: { url: string; marked?: string }) {
  const { data, error, refetch } = useSheetQuery(url);
  const [zoom, setZoom] = useState(0);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the sheet" />;
  const width = `${String((ZOOMS[zoom] ?? 1) * 100)}%`;
  return (
    <div className="relative h-full">
      {/* The server draws the sheet and escapes every text in it. */}
      <div
        className="h-full overflow-auto bg-white panel"
        tabIndex={0}
        role="region"
        aria-label="Drawing sheet"
        data-testid="sheet"
      >
        {marked && (
          <style>{`[data-sheet] g[fill="none"] > [data-check="${CSS.escape(marked)}"] { stroke: #a63a12; stroke-width: 0.4; }
            [data-sheet] g:not([fill="none"]) > [data-check="${CSS.escape(marked)}"] { fill: #a63a12; }`}</style>
        )}
        <div
          data-sheet
          style={{ width }}
          className="[&>svg]:block [&>svg]:h-auto [&>svg]:w-full"
          dangerouslySetInnerHTML={{ __html: data }}
        />
      </div>
      <div className="absolute top-2 right-2 flex gap-1">
        <ZoomButton
          label="Smaller"
          disabled={zoom === 0}
          onClick={() => {
            setZoom(zoom - 1);
          }}
        >
          <Minus size={14} aria-hidden />
        </ZoomButton>
        <ZoomButton
          label="Larger"
          disabled={zoom === ZOOMS.length - 1}
          onClick={() => {
            setZoom(zoom + 1);
          }}
        >
          <Plus size={14} aria-hidden />
        </ZoomButton>
      </div>
    </div>
  );
}

function ZoomButton({
  label,
  ...rest
}: {
  label: string;
  disabled: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      className="flex size-7 cursor-pointer items-center justify-center border border-ink/50 bg-paper hover:bg-accent-soft disabled:opacity-40"
      {...rest}
    />
  );
}
