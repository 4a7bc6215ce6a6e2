import { Fragment, type ReactNode } from 'react';
import { useParams, useSearchParams } from 'react-router';

import type { WorkDetail } from '#api';
import { useWorkDetailQuery } from '#web/api';
import { Failed, Loading } from '#web/ui';

/** Loads the work that the address names, in the stage that it names or the last one that is open; begins anew with another stage. */
export function PageOfWork({ children }: { readonly children: (work: WorkDetail) => ReactNode }) {
  const id = Number(useParams()['id']);
  const asked = Number(useSearchParams()[0].get('stage') ?? '');
  const { data, error, refetch } = useWorkDetailQuery({ id, stage: asked > 0 ? asked : null });
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the exercise" />;
  return <Fragment key={data.stage}>{children(data)}</Fragment>;
}
