/** What the stand-in of a school's site knows: its people, its one course with links, and the grades that it was sent. */
import { ASSISTANT, INSTRUCTOR, loginOf, SCHOOL, STUDENTS } from '#demo/course';

const MEMBERSHIP = 'http://purl.imsglobal.org/vocab/lis/v2/membership';
export const ROLE = {
  student: [`${MEMBERSHIP}#Learner`],
  instructor: [`${MEMBERSHIP}#Instructor`],
  assistant: [`${MEMBERSHIP}#Instructor`, `${MEMBERSHIP}/Instructor#TeachingAssistant`],
} as const;

export interface SitePerson {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly role: keyof typeof ROLE;
}

export interface SiteLink {
  readonly id: string;
  readonly title: string;
  readonly custom: Readonly<Record<string, string>>;
  readonly columnId: string | null;
}

export interface SiteScore {
  readonly score: number;
  readonly outOf: number;
  readonly at: string;
}

/** A column of the site's gradebook. */
export interface SiteColumn {
  readonly id: string;
  readonly label: string;
  readonly resourceId: string;
  readonly scores: Map<string, SiteScore>;
}

export const SITE_NAME = 'Saltmarsh campus';
export const CLIENT_ID = 'zorvet';
export const DEPLOYMENT_ID = 'saltmarsh-1';
export const SITE_COURSE = { id: 'fittings-1-morning', title: 'Fittings 1, morning' } as const;
export { SCHOOL };

/** Came late to the course: nobody in Zorvet knows her yet. */
const NEWCOMER = 'Tove Quayle';

const personOf = (name: string, role: SitePerson['role']): SitePerson => ({
  id: `campus-${loginOf(name)}`,
  name,
  email: `${loginOf(name)}@saltmarsh.example`,
  role,
});

export const SITE_PEOPLE: readonly SitePerson[] = [
  personOf(INSTRUCTOR.name, 'instructor'),
  personOf(ASSISTANT.name, 'assistant'),
  ...[...STUDENTS, NEWCOMER].map((name) => personOf(name, 'student')),
];

/** What changes while it runs; forgotten when it ends. */
export interface SiteState {
  readonly links: Map<string, SiteLink>;
  readonly columns: Map<string, SiteColumn>;
  /** Tokens of its services, with what each allows. */
  readonly tokens: Map<string, { readonly scopes: readonly string[]; readonly untilMs: number }>;
  /** Assertions and answers that were taken. */
  readonly seen: Set<string>;
}

export const emptyState = (): SiteState => ({
  links: new Map([
    ['start', { id: 'start', title: 'Zorvet: all exercises of the course', custom: {}, columnId: null }],
  ]),
  columns: new Map(),
  tokens: new Map(),
  seen: new Set(),
});
