/** What a site says of somebody who comes from it: the claims of an LTI 1.3 launch, as 1EdTech publishes them. */
import * as v from 'valibot';

import { isWebAddress } from '#api';

const LTI = 'https://purl.imsglobal.org/spec/lti/claim/';
const DEEP_LINKING = 'https://purl.imsglobal.org/spec/lti-dl/claim/';

/** Names of claims in the tokens of a launch and of the answer to a choice. */
export const CLAIM = {
  messageType: `${LTI}message_type`,
  version: `${LTI}version`,
  deployment: `${LTI}deployment_id`,
  roles: `${LTI}roles`,
  context: `${LTI}context`,
  custom: `${LTI}custom`,
  deepLinking: `${DEEP_LINKING}deep_linking_settings`,
  contentItems: `${DEEP_LINKING}content_items`,
  data: `${DEEP_LINKING}data`,
  grades: 'https://purl.imsglobal.org/spec/lti-ags/claim/endpoint',
  members: 'https://purl.imsglobal.org/spec/lti-nrps/claim/namesroleservice',
} as const;

/** What this server asks of the services of a site. */
export const SCOPE = {
  lineItems: 'https://purl.imsglobal.org/spec/lti-ags/scope/lineitem',
  scores: 'https://purl.imsglobal.org/spec/lti-ags/scope/score',
  members: 'https://purl.imsglobal.org/spec/lti-nrps/scope/contextmembership.readonly',
} as const;

const TextSchema = v.pipe(v.string(), v.maxLength(2000));
const WebAddressSchema = v.pipe(TextSchema, v.check(isWebAddress));
const optional = <S extends v.GenericSchema>(schema: S) => v.optional(v.nullable(schema), null);

/** A launch whose signature, issuer, audience and times are right. */
export const LaunchSchema = v.object({
  sub: v.pipe(v.string(), v.minLength(1), v.maxLength(255)),
  nonce: v.pipe(v.string(), v.minLength(1), v.maxLength(255)),
  aud: v.union([v.string(), v.array(v.string())]),
  azp: optional(v.string()),
  name: optional(TextSchema),
  given_name: optional(TextSchema),
  family_name: optional(TextSchema),
  email: optional(TextSchema),
  [CLAIM.messageType]: v.picklist(['LtiResourceLinkRequest', 'LtiDeepLinkingRequest']),
  [CLAIM.version]: v.literal('1.3.0'),
  [CLAIM.deployment]: v.string(),
  [CLAIM.roles]: v.pipe(v.array(TextSchema), v.maxLength(100)),
  [CLAIM.context]: optional(
    v.object({ id: v.pipe(v.string(), v.minLength(1), v.maxLength(255)), title: optional(TextSchema) }),
  ),
  [CLAIM.custom]: optional(v.object({ assignment: optional(v.union([v.string(), v.number()])) })),
  [CLAIM.deepLinking]: optional(
    v.object({
      deep_link_return_url: WebAddressSchema,
      accept_multiple: optional(v.boolean()),
      data: optional(v.string()),
    }),
  ),
  [CLAIM.grades]: optional(v.object({ lineitems: optional(WebAddressSchema), lineitem: optional(WebAddressSchema) })),
  [CLAIM.members]: optional(v.object({ context_memberships_url: WebAddressSchema })),
});
export type Launch = v.InferOutput<typeof LaunchSchema>;

/** Who came, as what, to which course, and what for. */
export const ArrivedSchema = v.object({
  subject: v.string(),
  name: v.string(),
  email: v.nullable(v.string()),
  role: v.picklist(['student', 'staff']),
  context: v.object({ id: v.string(), title: v.string() }),
  assignmentId: v.nullable(v.number()),
  choosing: v.nullable(v.object({ returnUrl: v.string(), several: v.boolean(), data: v.nullable(v.string()) })),
  lineItemUrl: v.nullable(v.string()),
  lineItemsUrl: v.nullable(v.string()),
  membersUrl: v.nullable(v.string()),
});
export type Arrived = v.InferOutput<typeof ArrivedSchema>;

const STAFF = /(^|[#/])(Instructor|TeachingAssistant|ContentDeveloper|Administrator)$/;
const LEARNER = /(^|[#/])Learner$/;
/** Roles in the course, not those that somebody has in the school or the system as a whole. */
const inCourse = (role: string): boolean => !role.includes('/institution/') && !role.includes('/system/');

/** Learner or staff of the course; null for whoever is neither, such as a mentor. */
export function roleOf(roles: readonly string[]): Arrived['role'] | null {
  const own = roles.filter(inCourse);
  if (own.some((role) => STAFF.test(role))) return 'staff';
  return own.some((role) => LEARNER.test(role)) ? 'student' : null;
}

const nameOf = ({ name, given_name: given, family_name: family }: Launch): string =>
  name?.trim() || [given, family].flatMap((part) => part?.trim() || []).join(' ') || 'No name';

/** What of a launch matters here; null where its course or the role in it is not said. */
export function arrivedBy(launch: Launch): Arrived | null {
  const role = roleOf(launch[CLAIM.roles]);
  const context = launch[CLAIM.context];
  const choosing = launch[CLAIM.deepLinking];
  if (role === null || context === null) return null;
  const assignment = Number(launch[CLAIM.custom]?.assignment ?? Number.NaN);
  return {
    subject: launch.sub,
    name: nameOf(launch).slice(0, 100),
    email: launch.email?.trim().toLowerCase() || null,
    role,
    context: { id: context.id, title: context.title?.trim() || 'the course' },
    assignmentId: Number.isSafeInteger(assignment) && assignment > 0 ? assignment : null,
    choosing:
      launch[CLAIM.messageType] === 'LtiDeepLinkingRequest' && choosing !== null
        ? { returnUrl: choosing.deep_link_return_url, several: choosing.accept_multiple === true, data: choosing.data }
        : null,
    lineItemUrl: launch[CLAIM.grades]?.lineitem ?? null,
    lineItemsUrl: launch[CLAIM.grades]?.lineitems ?? null,
    membersUrl: launch[CLAIM.members]?.context_memberships_url ?? null,
  };
}
