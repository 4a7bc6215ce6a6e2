/** The renderer is loaded only where a part is shown. */
import { lazy, Suspense } from 'react';

import type { DisplayModel } from '#api';
import { useModelQuery } from '#web/api';
import { useTheme } from '#web/theme';
import { Failed, Loading } from '#web/ui';

import type { ViewerProps } from './viewer.tsx';

const Viewer = lazy(() => import('./viewer.tsx'));

type PartViewProps = Omit<ViewerProps, 'model' | 'theme'> & {
  /** Address of the display model, below /api/. */
  readonly url: string;
};

export function PartView({ url, ...props }: PartViewProps) {
  const { data, error, refetch } = useModelQuery(url);
  const { theme } = useTheme();
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the model" />;
  return (
    <Suspense fallback={<Loading what="the 3D view" />}>
      <Viewer model={data} theme={theme} {...props} />
    </Suspense>
  );
}

type ModelViewProps = Omit<ViewerProps, 'theme'> & { readonly model: DisplayModel };

/** A part whose model is at hand. */
export function ModelView(props: ModelViewProps) {
  const { theme } = useTheme();
  return (
    <Suspense fallback={<Loading what="the 3D view" />}>
      <Viewer theme={theme} {...props} />
    </Suspense>
  );
}
