/** The school's site: its registration, how somebody arrives from it, and the grades that it is told. */
import * as v from 'valibot';

const NameSchema = v.pipe(v.string(), v.trim(), v.minLength(1, 'Fill this in.'), v.maxLength(300));
/** Whether a text is an address of the web. */
export const isWebAddress = (text: string): boolean => URL.canParse(text) && /^https?:$/.test(new URL(text).protocol);
const AddressSchema = v.pipe(
  NameSchema,
  v.check(isWebAddress, 'This is no address: it begins with "https://", as the site shows it.'),
);

/** A site as an administrator registers it; all of it is shown by the site when the tool is added there. */
export const NewSchoolSiteSchema = v.strictObject({
  name: NameSchema,
  issuer: NameSchema,
  clientId: NameSchema,
  deploymentId: NameSchema,
  signInUrl: AddressSchema,
  tokenUrl: AddressSchema,
  keysUrl: AddressSchema,
});
export type NewSchoolSite = v.InferOutput<typeof NewSchoolSiteSchema>;

export const SchoolSitesSchema = v.object({
  sites: v.array(v.object({ id: v.number(), ...NewSchoolSiteSchema.entries, people: v.number(), courses: v.number() })),
  /** What the site has to be told about this server. */
  own: v.object({ signInUrl: v.string(), launchUrl: v.string(), keysUrl: v.string() }),
  /** Since when what is sent is signed with the key of now. */
  keySince: v.string(),
});
export type SchoolSites = v.InferOutput<typeof SchoolSitesSchema>;

/** Why somebody who comes from a site is not let in, in words for that person. */
export const LAUNCH_REFUSALS = {
  'unknown-site':
    'The site that you come from is not registered here. Whoever looks after this server has to do that first.',
  'old-launch':
    'This way in is too old, or was begun in another browser. Open the link on the site of your school again.',
  'used-launch': 'This way in was used already. Open the link on the site of your school again.',
  'bad-launch':
    'What the site of your school sent cannot be trusted as it is. Tell whoever looks after this server, with the time.',
  'site-silent': 'The site of your school does not answer to this server. Try again in a minute.',
  'site-refused': 'The site of your school did not let you through. Sign in there, and open the link again.',
  'no-role': 'The site of your school does not say whether you learn or teach in this course. Ask your instructor.',
  'no-section':
    'This course is not connected with a section here yet. Your instructor has to open the link once, and choose it.',
  'not-staff': 'Only those who teach a course choose its exercises.',
  'other-account':
    'In this course of the site you learn, and your account here teaches, or the other way round. Ask whoever looks after the server.',
} as const;
export type LaunchRefusal = keyof typeof LAUNCH_REFUSALS;

/** What somebody who came from a site has to choose. */
export const ArrivalSchema = v.object({
  site: v.string(),
  name: v.string(),
  course: v.string(),
  step: v.variant('kind', [
    /** Is this one of the accounts here? Students may be new as well. */
    v.object({ kind: v.literal('account'), mayBeNew: v.boolean() }),
    /** Which of one's sections is the course? */
    v.object({
      kind: v.literal('section'),
      sections: v.array(v.object({ id: v.number(), course: v.string(), name: v.string() })),
    }),
    /** Which assignments shall be links of the course? */
    v.object({
      kind: v.literal('assignments'),
      section: v.string(),
      several: v.boolean(),
      assignments: v.array(v.object({ id: v.number(), number: v.string(), title: v.string() })),
    }),
    v.object({ kind: v.literal('done'), to: v.string() }),
  ]),
});
export type Arrival = v.InferOutput<typeof ArrivalSchema>;
export const ChooseSectionSchema = v.strictObject({ sectionId: v.number() });

/** What a site knows of the grades of an assignment. */
export const SentGradesSchema = v.object({
  /** Name of the site; null where the section is not connected with any. */
  site: v.nullable(v.string()),
  students: v.array(
    v.object({
      id: v.number(),
      name: v.string(),
      /** What counts now; null where nothing does. */
      score: v.nullable(v.number()),
      sent: v.nullable(v.object({ score: v.number(), at: v.string() })),
      /**
       * What a sending would do. `open`: more can be handed in, and the exact score would tell what reports withhold until
       * then. `not-connected`: those who never came from the site cannot be told apart there.
       */
      state: v.picklist(['same', 'to-send', 'nothing', 'open', 'to-review', 'not-connected']),
    }),
  ),
});
export type SentGrades = v.InferOutput<typeof SentGradesSchema>;
export const SendingSchema = v.object({
  sent: v.number(),
  failed: v.array(v.object({ name: v.string(), why: v.string() })),
  grades: SentGradesSchema,
});
export type Sending = v.InferOutput<typeof SendingSchema>;

/** The site whose course a section is; null where it is none. */
export const SiteListSchema = v.object({ site: v.nullable(v.string()) });
/** The learners of that course, as a list for the roster. */
export const SiteMembersSchema = v.object({ text: v.string(), students: v.number() });
