import type { Round, RoundLine } from '#api';
import { judgeReading } from '#core/selfcheck';

import type { DrawnPart, ReadParts } from './parts.ts';
import type { Workings, WorkPlace } from './workings.ts';

export interface Rounds {
  /** The dimensions of a sheet with what a student read off the own model for each. */
  linesOf(part: DrawnPart, round: Round): Promise<RoundLine[]>;
  /** How many dimensions of a sheet a student has not measured yet, and how many there are. */
  openOf(part: DrawnPart, place: WorkPlace): Promise<{ readonly open: number; readonly all: number }>;
}

/** Going round the sheet, one dimension after the other, before something is handed in. */
export function createRounds(read: ReadParts, workings: Workings): Rounds {
  const linesOf: Rounds['linesOf'] = async (part, round) => {
    const found = await read(part);
    if (found === null) return [];
    const { reference, dimensions } = found;
    return dimensions.map((dimension) => {
      const { checkId, printed, label, quantity, page } = dimension;
      const readings = (round[checkId] ?? []).map((text) => ({
        text,
        verdict: judgeReading(dimension, text, reference.unit),
      }));
      return { checkId, printed, label, quantity, page, readings };
    });
  };
  return {
    linesOf,
    async openOf(part, place) {
      const lines = await linesOf(part, workings.find('round', place).document ?? {});
      const open = lines.filter(({ readings }) => (readings.at(-1)?.verdict.kind ?? 'unreadable') === 'unreadable');
      return { open: open.length, all: lines.length };
    },
  };
}
