import checksum from 'crc-32';

import type { Lookalikes, Picture } from '#core/lookalike';
import type { DrawnExercise, PaperPoint, PrintedDimension } from '#core/selfcheck';

/** What a question is about; what is practiced is scheduled by topic. */
export const TOPICS = [
  'title-block',
  'symbols',
  'lines',
  'views',
  'across-views',
  'pictures',
  'counts',
  'depths',
  'dimensions',
  'chains',
] as const;
export type Topic = (typeof TOPICS)[number];
export const isTopic = (text: string): text is Topic => (TOPICS as readonly string[]).includes(text);

/** A ring around a place of the sheet, with a letter or number beside it. */
export interface Ring {
  readonly label: string;
  readonly at: PaperPoint;
}

/** A question that the sheet answers, with all that it takes to say why. */
export interface Question {
  /** The same for the same sheet, so that an answer finds its question again. */
  readonly id: string;
  readonly topic: Topic;
  readonly text: string;
  readonly rings: readonly Ring[];
  /** The dimension that is asked about. */
  readonly checkId: string | null;
  readonly page: number;
  readonly options: readonly string[];
  /** Of each option; null where they are words alone. */
  readonly pictures: readonly Picture[] | null;
  /** Which of the options. */
  readonly answer: number;
  /** Said with the answer, whatever it was. */
  readonly why: string;
}

/** What questions are made from. */
export interface ReadSheet extends DrawnExercise {
  readonly dimensions: readonly PrintedDimension[];
  /** The part beside others that it may be taken for, where that was made. */
  readonly lookalikes?: Lookalikes | null;
}

/** A question before its options are put in order. */
export interface Draft {
  readonly key: string;
  readonly text: string;
  readonly right: string;
  /** Alike ones and the right one are left out. */
  readonly wrong: readonly string[];
  readonly why: string;
  readonly rings?: readonly Ring[];
  readonly checkId?: string;
  readonly page?: number;
  /** Options that are names of places are kept in order. */
  readonly inOrder?: true;
  /** Of the options in their order. */
  readonly pictures?: readonly Picture[];
}

/** Makes the questions of one topic from a sheet; none where the sheet does not ask for it. */
export type TopicQuestions = (sheet: ReadSheet) => readonly Draft[];

/** A number of a text that looks like chance and is always the same, from 0. */
export const chanceOf = (text: string): number => checksum.str(text) >>> 0;
