import { toast } from 'sonner';

import type { AttemptDetail, ReviewAction } from '#api';
import { failureText, useReviewMutation } from '#web/api';

/** Changes the review of an attempt; what fails is told, and the answer says whether it was done. */
export function useChange({ id, review }: Pick<AttemptDetail, 'id' | 'review'>) {
  const [send, { isLoading }] = useReviewMutation();
  const change = async (action: ReviewAction): Promise<boolean> => {
    const { error } = await send({ id, version: review.version, action });
    if (error) toast.error(failureText(error), { duration: 10_000 });
    return error === undefined;
  };
  return { change, busy: isLoading };
}
