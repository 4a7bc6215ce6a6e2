import type { ReactNode } from 'react';

import type { Pin } from '#api';

/** What an instructor can do beside reading. */
export interface Reviewing {
  /** What can be done with a line, by its id. */
  readonly actions: (lineId: string) => ReactNode;
  /** The next click on model or sheet gives the place of a remark. */
  readonly placing: boolean;
  readonly onPlace: (pin: Pin) => void;
  readonly onChosen: (checkId: string | null) => void;
  /** What is said about the attempt. */
  readonly conversation: ReactNode;
}
