import { useEffect, useState } from 'react';

import { openMeasuring, type WorkshopClient } from './client.ts';

/** A workshop for as long as the page is there, which knows of no files on the server. */
export function useOwnWorkshop(): WorkshopClient {
  const [workshop] = useState(openMeasuring);
  useEffect(
    () => () => {
      workshop.close();
    },
    [workshop],
  );
  return workshop;
}
