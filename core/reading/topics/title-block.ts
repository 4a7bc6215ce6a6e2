import { scaleText } from '#core/sheet';

import type { TopicQuestions } from '../question.ts';

/** Unit, projection and scale. */
export const titleBlock: TopicQuestions = ({ exercise, sheet }) => {
  const { unit } = exercise.recipe;
  const other = unit === 'mm' ? 'inches' : 'millimeters';
  const own = unit === 'mm' ? 'millimeters' : 'inches';
  const isThird = exercise.projection === 'third-angle';
  const scale = scaleText(sheet.scale);
  const [paper = 1, part = 1] = scale.split(':').map(Number);
  return [
    {
      key: 'unit',
      text: 'In which unit are the dimensions of this sheet?',
      right: `In ${own}`,
      wrong: [`In ${other}`, 'In centimeters', 'Each dimension says its own'],
      why: `The title block says it under "Dimensions in": ${unit === 'mm' ? 'millimeters' : 'inch'}. No dimension repeats it.`,
    },
    {
      key: 'projection',
      text: 'By which projection do the views of this sheet lie to each other?',
      right: isThird ? 'Third angle' : 'First angle',
      wrong: [isThird ? 'First angle' : 'Third angle', 'Neither: they are pictorial'],
      why: isThird
        ? 'The sign in the title block is that of third angle: a view stands on the side from which it looks, what is seen from above stands above.'
        : 'The sign in the title block is that of first angle: a view stands on the far side from where it looks, what is seen from above stands below.',
    },
    {
      key: 'scale',
      text: `The scale is ${scale}. A line of 10 ${unit} on the printed paper is how long on the part?`,
      right: `${String((10 * part) / paper)} ${unit}`,
      wrong: [10, (10 * paper) / part, 20, 5, 100].map((size) => `${String(size)} ${unit}`),
      why: `${scale} is paper to part: ${String(paper)} ${unit} on paper is ${String(part)} ${unit} of the part. Read the dimensions all the same; nothing is measured off the paper.`,
    },
  ];
};
