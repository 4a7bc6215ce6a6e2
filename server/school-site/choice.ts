/** The answer of somebody who chose assignments to be links of a course (LTI deep linking 2.0). */
import { randomUUID } from 'node:crypto';

import type { JWTPayload } from 'jose';

import type { Came, ChosenAssignment } from './arrivals.ts';
import { CLAIM } from './claims.ts';

/** What is signed and sent back: a link with a column of grades for each assignment. */
export function choiceAnswer(
  { site, arrived }: Pick<Came, 'site' | 'arrived'>,
  chosen: readonly ChosenAssignment[],
  launchUrl: string,
): JWTPayload {
  const data = arrived.choosing?.data ?? null;
  return {
    iss: site.clientId,
    aud: site.issuer,
    nonce: randomUUID(),
    [CLAIM.deployment]: site.deploymentId,
    [CLAIM.messageType]: 'LtiDeepLinkingResponse',
    [CLAIM.version]: '1.3.0',
    ...(data === null ? {} : { [CLAIM.data]: data }),
    [CLAIM.contentItems]: chosen.map(({ id, number, title, dueAt }) => ({
      type: 'ltiResourceLink',
      title: `${number} ${title}`,
      url: launchUrl,
      custom: { assignment: String(id) },
      window: { targetName: '_blank' },
      submission: { endDateTime: dueAt },
      lineItem: { scoreMaximum: 100, label: `${number} ${title}`, resourceId: String(id) },
    })),
  };
}
