import { lazy, Suspense } from 'react';

import { Loading } from '#web/ui';

const Reading = lazy(() => import('./reading.tsx'));

/** How a list of build steps is understood, line by line; what reads it is loaded only where there is one. */
export const BuildLogReading = ({ text }: { text: string }) =>
  text.trim() === '' ? null : (
    <Suspense fallback={<Loading what="the list" />}>
      <Reading text={text} />
    </Suspense>
  );
