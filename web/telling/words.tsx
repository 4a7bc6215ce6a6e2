import type { Answers, Release } from '#api';
import type { FeedbackDegree } from '#core/grade';

export const ANSWERS: Readonly<Record<Answers, string>> = {
  'after-due': 'After the due time',
  'at-once': 'With each report',
  never: 'Not to students',
};

export const RELEASES: Readonly<Record<Release, string>> = {
  automatic: 'As soon as it is measured',
  accepted: 'When I accept it',
  'by-hand': 'When I release it',
};

export const DEGREES: Readonly<Record<FeedbackDegree, string>> = {
  score: 'The score alone',
  checks: 'Which checks are right',
  numbers: 'By how much as well',
  causes: 'The probable causes as well',
  overlay: 'Everything, also in 3D',
};

/** The first degree until the last attempt, which is told the last one. */
export const feedbackOf = (first: FeedbackDegree, last: FeedbackDegree, attempts: number): FeedbackDegree[] => [
  ...Array.from({ length: Math.min(19, Math.max(0, (attempts || 1) - 1)) }, () => first),
  last,
];

/** Options of a choice, in the order of their table. */
export const optionsOf = (words: Readonly<Record<string, string>>) =>
  Object.entries(words).map(([value, label]) => (
    <option key={value} value={value}>
      {label}
    </option>
  ));
