import type { Draft, ReadSheet, TopicQuestions } from '../question.ts';
import { directionWords, onScreen, plainViews, type PlainView } from '../views.ts';

/** Which view looks from where: the views of one page are lettered. */
export const views: TopicQuestions = (sheet: ReadSheet) => {
  const all = plainViews(sheet);
  return all.flatMap((asked): Draft[] => {
    const beside = all.filter(({ page }) => page === asked.page);
    if (beside.length < 2) return [];
    const label = (view: PlainView): string => String.fromCodePoint(97 + beside.indexOf(view));
    const from = directionWords(asked);
    return [
      {
        key: asked.id,
        text: `Which view looks at the part ${from}?`,
        right: `View ${label(asked)}`,
        wrong: beside.filter((view) => view !== asked).map((view) => `View ${label(view)}`),
        inOrder: true,
        why: whyOf(sheet, asked, label(asked)),
        rings: beside.map((view) => ({
          label: label(view),
          at: onScreen(sheet, view.page, [view.min[0], view.max[1]]),
        })),
        page: asked.page,
      },
    ];
  });
};

function whyOf({ exercise }: ReadSheet, asked: PlainView, label: string): string {
  const from = directionWords(asked);
  if (from === 'from the front') return `View ${label} is the front view: the others are turned out of it.`;
  return exercise.projection === 'third-angle'
    ? `Third angle: what is seen ${from} stands on that side of the front view, which is view ${label}.`
    : `First angle: what is seen ${from} stands on the far side of the front view, which is view ${label}.`;
}
