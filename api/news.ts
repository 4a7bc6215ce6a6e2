/** What is new for somebody: on the page, and by mail. */
import * as v from 'valibot';

/** What it is about; a page or a mail may treat kinds differently. */
export const NewsKindSchema = v.picklist([
  'issued',
  'due-changed',
  'extension',
  'due-soon',
  'report',
  'remark',
  'answered',
  'answers',
  'question-answered',
  'erratum',
  'corrected',
  'given-back',
  'request',
  'question',
  'retention',
  'not-begun',
  'ended',
]);
export type NewsKind = v.InferOutput<typeof NewsKindSchema>;

export const NewsItemSchema = v.object({
  /** The same for the same thing. */
  id: v.string(),
  kind: NewsKindSchema,
  at: v.string(),
  text: v.string(),
  /** The page that it is on. */
  to: v.string(),
  isNew: v.boolean(),
});
export type NewsItem = v.InferOutput<typeof NewsItemSchema>;

export const NewsSchema = v.object({
  items: v.array(NewsItemSchema),
  mail: v.object({
    /** Whether this server sends mail at all. */
    isSent: v.boolean(),
    address: v.nullable(v.string()),
    /** Those of students stand in the list of their section, and only staff change them there. */
    mayChange: v.boolean(),
    wanted: v.boolean(),
  }),
});
export type News = v.InferOutput<typeof NewsSchema>;
export const WantsMailSchema = v.strictObject({
  wanted: v.boolean(),
  /** Left out where it stays as it is. */
  address: v.optional(
    v.pipe(v.string(), v.trim(), v.toLowerCase(), v.email('This is no mail address.'), v.maxLength(200)),
  ),
});
export type WantsMail = v.InferOutput<typeof WantsMailSchema>;
