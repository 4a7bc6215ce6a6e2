/** Reading a model file in a worker of the page; nothing of it leaves the page. */
import { useEffect, useRef, useState } from 'react';

import type { LengthUnit } from '#core/quantity';
import { failureText } from '#web/api';
import { openMeasuring, SUPERSEDED, type InspectAnswer, type WorkshopClient } from '#web/workshop';

export type Inspection =
  | { readonly state: 'none' }
  | { readonly state: 'reading'; readonly fileName: string }
  /** `isTooMuch` where the page gave up, and not the file is at fault. */
  | { readonly state: 'refused'; readonly fileName: string; readonly why: string; readonly isTooMuch: boolean }
  | { readonly state: 'read'; readonly file: File; readonly answer: InspectAnswer; readonly unit: LengthUnit | null };

export interface Inspecting {
  readonly read: Inspection;
  /** Reads a file, instead of one that may be under way; a unit where its format states none and one was chosen. */
  readonly look: (file: File, unit: LengthUnit | null) => void;
  readonly forget: () => void;
}

const TOO_MUCH =
  'This file is more than the page can read. Hand it in: it is measured on the server, and costs no attempt if it cannot be read.';

/** One file at a time. The kernel is loaded at once where `isWarm` says so, otherwise with the first file. */
export function useInspection(isWarm: boolean): Inspecting {
  const [read, setRead] = useState<Inspection>({ state: 'none' });
  const client = useRef<WorkshopClient | null>(null);
  const newest = useRef<File | null>(null);
  useEffect(() => {
    const opened = openMeasuring();
    client.current = opened;
    if (isWarm) opened.warm();
    return () => {
      opened.close();
      client.current = null;
    };
  }, [isWarm]);
  const look = (file: File, unit: LengthUnit | null): void => {
    const opened = client.current;
    if (opened === null) return;
    newest.current = file;
    setRead({ state: 'reading', fileName: file.name });
    const refuse = (why: string, isTooMuch = false): void => {
      if (newest.current === file) setRead({ state: 'refused', fileName: file.name, why, isTooMuch });
    };
    void file
      .arrayBuffer()
      .then((bytes) =>
        opened.ask<'inspect'>({ kind: 'inspect', bytes: new Uint8Array(bytes), fileName: file.name, unit }),
      )
      .then((result) => {
        if (result.ok) {
          if (newest.current === file) setRead({ state: 'read', file, answer: result.value, unit });
        } else if (result.problem.code === 'workshop-broken') refuse(TOO_MUCH, true);
        else if (result.problem.code !== SUPERSEDED) refuse(result.problem.message);
      })
      .catch((failure: unknown) => {
        refuse(failureText(failure));
      });
  };
  const forget = (): void => {
    newest.current = null;
    setRead({ state: 'none' });
  };
  return { read, look, forget };
}
