import type { Aids, SizeAnswer, SizeLink, SizeQuestion } from '#api';
import type { Exercise } from '#core/exercise';
import { refuse, succeed, type Result } from '#core/problem';
import { askedSize, isSize, sizeAnswer } from '#core/selfcheck';

import type { DrawnPart, ReadParts } from './parts.ts';

export interface Sizes {
  /** How a size that the sheet does not write follows from those that it writes, as far as the course helps. */
  answer(
    part: DrawnPart & { readonly exercise: Exercise },
    question: SizeQuestion,
    help: Aids['sizes'],
  ): Promise<Result<SizeAnswer>>;
}

const OLD_SHEET = 'This sheet was issued by an earlier version, in which lines could not be picked.';

export function createSizes(read: ReadParts): Sizes {
  return {
    async answer(part, { from, to, along, shown, sum }, help) {
      const found = await read(part);
      if (found === null || found.sheet.views.every(({ lies }) => lies === undefined))
        return refuse('old-sheet', OLD_SHEET);
      const { sheet, reference, dimensions } = found;
      const drawn = { exercise: part.exercise, reference, sheet };
      const asked = askedSize(drawn, [from, to], along);
      if (!asked.ok) return asked;
      const said = sizeAnswer(drawn, asked.value);
      const linkOf = (checkId: string | null): SizeLink['dimension'] => {
        const found = dimensions.find((dimension) => dimension.checkId === checkId);
        return found === undefined
          ? null
          : { checkId: found.checkId, printed: found.printed, label: found.label, page: found.page };
      };
      const all: SizeLink[] =
        said.kind === 'follows'
          ? said.links.map(({ checkId, part: share, sense }) => ({ dimension: linkOf(checkId), part: share, sense }))
          : said.kind === 'written'
            ? [{ dimension: linkOf(said.checkId), part: 'whole', sense: 'plus' }]
            : [];
      const told = said.kind === 'written' || (help === 'chain' && shown > 0) ? all : all.slice(0, shown);
      const judged = sum === null ? null : isSize(asked.value, sum, reference);
      const [first, second] = asked.value.marks;
      return succeed({
        along: asked.value.along,
        marks: [
          { page: first.page, at: [...first.at] },
          { page: second.page, at: [...second.at] },
        ],
        kind: said.kind,
        count: all.length,
        links: told,
        verdict: judged === null ? null : !judged.ok ? 'unreadable' : judged.value ? 'agrees' : 'differs',
      });
    },
  };
}
