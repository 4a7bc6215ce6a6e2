import type { Aids, SizeAnswer, SizeLink, SizeQuestion } from '#api';
import type { Exercise } from '#core/exercise';
import { refuse, succeed, type Result } from '#core/problem';
import { askedSize, isSize, sizeAnswer } from '#core/selfcheck';
import { isUploaded } from '#core/sheet';

import type { DrawnPart, ReadParts } from './parts.ts';

export interface Sizes {
  /** How a size that the sheet does not write follows from those that it writes, as far as the course helps. */
  answer(
    part: DrawnPart & { readonly exercise: Exercise },
    question: SizeQuestion,
    help: Aids['sizes'],
  ): Promise<Result<SizeAnswer>>;
}

const OLD_SHEET =
  'This sheet was issued by an earlier version, in which lines could not be picked. Your instructor can make a new revision of the exercise.';
const MADE_ELSEWHERE = 'This drawing was made elsewhere, and its lines cannot be picked here.';

export function createSizes(read: ReadParts): Sizes {
  return {
    async answer(part, { from, to, along, shown, sum }, help) {
      const found = await read(part);
      if (found !== null && isUploaded(found.sheet)) return refuse('uploaded-drawing', MADE_ELSEWHERE);
      if (found === null || found.sheet.views.every(({ lies }) => lies === undefined))
        return refuse('old-sheet', OLD_SHEET);
      const { sheet, reference, dimensions } = found;
      const drawn = { exercise: part.exercise, reference, sheet };
      const asked = askedSize(drawn, [from, to], along);
      if (!asked.ok) return asked;
      const answer = sizeAnswer(drawn, asked.value);
      const printedOf = (checkId: string | null): SizeLink['dimension'] => {
        const one = dimensions.find((dimension) => dimension.checkId === checkId);
        return one === undefined
          ? null
          : { checkId: one.checkId, printed: one.printed, label: one.label, page: one.page };
      };
      const links = answer.kind === 'follows' ? answer.links : [];
      // A link that is drawn nowhere cannot be read off the sheet.
      const isReadable = links.every(({ checkId }) => checkId === null || printedOf(checkId) !== null);
      const kind = isReadable ? answer.kind : 'otherwise';
      const all: SizeLink[] =
        answer.kind === 'written'
          ? [{ dimension: printedOf(answer.checkId), part: 'whole', sense: 'plus' }]
          : isReadable
            ? links.map(({ checkId, part: share, sense }) => ({ dimension: printedOf(checkId), part: share, sense }))
            : [];
      const told = kind === 'written' || (help === 'chain' && shown > 0) ? all : all.slice(0, shown);
      const judged = sum === null ? null : isSize(asked.value, sum, reference);
      const [first, second] = asked.value.marks;
      return succeed({
        along: asked.value.along,
        marks: [
          { page: first.page, at: [...first.at] },
          { page: second.page, at: [...second.at] },
        ],
        kind,
        count: all.length,
        links: told,
        verdict: judged === null ? null : !judged.ok ? 'unreadable' : judged.value ? 'agrees' : 'differs',
      });
    },
  };
}
