import * as v from 'valibot';

import { unknownWords } from '#core/filename';

const NameSchema = v.pipe(v.string(), v.trim(), v.minLength(1, 'Type a name.'), v.maxLength(120));
const LoginSchema = v.pipe(
  v.string(),
  v.trim(),
  v.regex(/^[\p{L}\p{N}._-]{2,80}$/u, 'A sign-in name has two or more letters, digits, points or dashes.'),
);
const PasswordSchema = v.pipe(v.string(), v.minLength(1, 'Type a password.'), v.maxLength(200));
const ZoneSchema = v.pipe(v.string(), v.trim(), v.minLength(1, 'Choose a time zone.'), v.maxLength(80));

/** Whether nobody has an account yet, so that the first one is made in the page. */
export const SetupStateSchema = v.object({ needed: v.boolean(), timeZone: v.string() });
export type SetupState = v.InferOutput<typeof SetupStateSchema>;

/** The first account, which teaches the first course and looks after the service. */
export const SetupSchema = v.strictObject({
  /** Printed by the server when it starts. */
  code: v.pipe(
    v.string(),
    v.trim(),
    v.minLength(1, 'Type the code that the server printed when it started.'),
    v.maxLength(40),
  ),
  name: NameSchema,
  login: LoginSchema,
  password: PasswordSchema,
  school: NameSchema,
  course: NameSchema,
  section: NameSchema,
  timeZone: ZoneSchema,
});
export type Setup = v.InferOutput<typeof SetupSchema>;

/** A first sign-in, or one after a forgotten password. */
export const CodeSignInSchema = v.strictObject({
  code: v.pipe(v.string(), v.trim(), v.minLength(1, 'Type the code of your slip.'), v.maxLength(40)),
  password: PasswordSchema,
});
export type CodeSignIn = v.InferOutput<typeof CodeSignInSchema>;

export const ChangePasswordSchema = v.strictObject({ before: PasswordSchema, password: PasswordSchema });
export type ChangePassword = v.InferOutput<typeof ChangePasswordSchema>;

/** Somebody joins a section by its code. */
export const JoinSchema = v.strictObject({ name: NameSchema, login: LoginSchema, password: PasswordSchema });
export type Join = v.InferOutput<typeof JoinSchema>;
export const JoinInfoSchema = v.object({ course: v.string(), section: v.string(), school: v.string() });
export type JoinInfo = v.InferOutput<typeof JoinInfoSchema>;

export const StaffRoleSchema = v.picklist(['instructor', 'assistant']);
export type StaffRole = v.InferOutput<typeof StaffRoleSchema>;

export const CourseSectionSchema = v.object({
  id: v.number(),
  name: v.string(),
  students: v.number(),
  /** With which students join by themselves; null where they may not. */
  joinCode: v.nullable(v.string()),
});
export type CourseSection = v.InferOutput<typeof CourseSectionSchema>;

export const StaffMemberSchema = v.object({
  id: v.number(),
  name: v.string(),
  login: v.string(),
  role: StaffRoleSchema,
  /** An assistant may release reports. */
  mayRelease: v.boolean(),
});
export type StaffMember = v.InferOutput<typeof StaffMemberSchema>;

/** A course as its staff see it. */
export const CourseSchema = v.object({
  id: v.number(),
  title: v.string(),
  school: v.string(),
  term: v.string(),
  timeZone: v.string(),
  archivedAt: v.nullable(v.string()),
  /** Pattern of the names of files, such as "{number}-{surname}"; null where any will do. */
  fileNameRule: v.nullable(v.string()),
  /** Day until which the work of students is kept, 2028-12-31; null for as long as nobody erases it. */
  keepUntil: v.nullable(v.string()),
  /** When it was erased after that day. */
  forgottenAt: v.nullable(v.string()),
  /** Whether who asks may change it. */
  mayManage: v.boolean(),
  sections: v.array(CourseSectionSchema),
  staff: v.array(StaffMemberSchema),
});
export type Course = v.InferOutput<typeof CourseSchema>;
export const CourseListSchema = v.object({ courses: v.array(CourseSchema) });

export const NewCourseSchema = v.strictObject({
  title: NameSchema,
  term: v.pipe(v.string(), v.trim(), v.maxLength(60)),
  timeZone: ZoneSchema,
});
export type NewCourse = v.InferOutput<typeof NewCourseSchema>;
/** Empty for none. */
export const FileNameRuleSchema = v.pipe(
  v.string(),
  v.trim(),
  v.maxLength(80),
  v.check(
    (pattern) => unknownWords(pattern).length === 0,
    'Words in braces are {number}, {surname} and {name}; the rest is taken as it is.',
  ),
);
/** A day, or nothing for no end. */
export const KeepUntilSchema = v.union([
  v.pipe(
    v.literal(''),
    v.transform(() => null),
  ),
  v.null(),
  v.pipe(v.string(), v.isoDate('Give a day, or leave it empty.')),
]);
export const ChangeCourseSchema = v.partial(
  v.strictObject({
    ...NewCourseSchema.entries,
    fileNameRule: FileNameRuleSchema,
    keepUntil: KeepUntilSchema,
    archived: v.boolean(),
  }),
);
export type ChangeCourse = v.InferOutput<typeof ChangeCourseSchema>;

export const NewSectionSchema = v.strictObject({ name: NameSchema });
export const ChangeSectionSchema = v.partial(v.strictObject({ name: NameSchema, mayJoin: v.boolean() }));
export type ChangeSection = v.InferOutput<typeof ChangeSectionSchema>;

export const NewStaffSchema = v.strictObject({ name: NameSchema, login: LoginSchema, role: StaffRoleSchema });
export type NewStaff = v.InferOutput<typeof NewStaffSchema>;
export const ChangeStaffSchema = v.partial(v.strictObject({ role: StaffRoleSchema, mayRelease: v.boolean() }));
export type ChangeStaff = v.InferOutput<typeof ChangeStaffSchema>;

/** Somebody of a section, as its staff see them. */
export const RosterStudentSchema = v.object({
  id: v.number(),
  name: v.string(),
  login: v.string(),
  email: v.nullable(v.string()),
  /** When they last signed in; null for never. */
  signedInAt: v.nullable(v.string()),
  attempts: v.number(),
});
export type RosterStudent = v.InferOutput<typeof RosterStudentSchema>;

const LineSchema = v.object({
  line: v.number(),
  name: v.string(),
  email: v.nullable(v.string()),
  login: v.nullable(v.string()),
  schoolId: v.nullable(v.string()),
});
const PersonSchema = v.object({ id: v.number(), name: v.string(), email: v.nullable(v.string()), login: v.string() });
export const RosterEntrySchema = v.variant('kind', [
  v.object({ kind: v.literal('new'), line: LineSchema, login: v.string() }),
  v.object({ kind: v.literal('joins'), line: LineSchema, person: PersonSchema }),
  v.object({ kind: v.literal('same'), line: LineSchema, person: PersonSchema }),
  v.object({ kind: v.literal('changed'), line: LineSchema, person: PersonSchema }),
  v.object({ kind: v.literal('doubtful'), line: LineSchema, person: PersonSchema, why: v.string(), login: v.string() }),
]);

/** What a list would change; nothing has happened yet. */
export const RosterPreviewSchema = v.object({
  entries: v.array(RosterEntrySchema),
  gone: v.array(PersonSchema),
  skipped: v.array(v.object({ line: v.number(), text: v.string(), why: v.string() })),
});
export type RosterPreview = v.InferOutput<typeof RosterPreviewSchema>;

const MOST_LIST_BYTES = 500_000;
export const RosterTextSchema = v.strictObject({ text: v.pipe(v.string(), v.maxLength(MOST_LIST_BYTES)) });

/** A list that was looked at, and what was decided where it leaves something open. */
export const RosterApplySchema = v.strictObject({
  text: v.pipe(v.string(), v.maxLength(MOST_LIST_BYTES)),
  /** Lines of which a person says that they are the one who is there; other doubtful ones become new accounts. */
  sameLines: v.array(v.number()),
  /** Who is taken out of the section. */
  remove: v.array(v.number()),
  /** What the records of the school call the class, where the list comes from there; null where nothing is said. */
  classId: v.optional(v.nullable(v.pipe(v.string(), v.maxLength(255))), null),
});
export type RosterApply = v.InferOutput<typeof RosterApplySchema>;

/** The last thing that a list changed, as long as it can be undone. */
export const RosterChangeSchema = v.object({
  id: v.number(),
  at: v.string(),
  by: v.string(),
  created: v.number(),
  enrolled: v.number(),
  changed: v.number(),
  removed: v.number(),
});
export type RosterChange = v.InferOutput<typeof RosterChangeSchema>;
export const RosterSchema = v.object({
  section: v.object({ id: v.number(), name: v.string(), course: v.string(), courseId: v.number() }),
  students: v.array(RosterStudentSchema),
  lastChange: v.nullable(RosterChangeSchema),
});
export type Roster = v.InferOutput<typeof RosterSchema>;

/** Whose slips are printed; all who never signed in where nobody is named. */
export const SlipsSchema = v.strictObject({ studentIds: v.nullable(v.array(v.number())) });

/** Somebody's new code, shown once. */
export const NewCodeSchema = v.object({ login: v.string(), code: v.string() });
export type NewCode = v.InferOutput<typeof NewCodeSchema>;

export const AuditEntrySchema = v.object({
  id: v.number(),
  at: v.string(),
  by: v.string(),
  what: v.string(),
  subject: v.string(),
  /** As JSON. */
  before: v.nullable(v.string()),
  after: v.nullable(v.string()),
});
export type AuditEntry = v.InferOutput<typeof AuditEntrySchema>;
export const AuditSchema = v.object({ entries: v.array(AuditEntrySchema) });
