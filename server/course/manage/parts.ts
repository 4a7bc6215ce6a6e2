import type { Audit } from '#server/audit';
import type { SignInCodes } from '#server/auth';
import type { Db } from '#server/db';

/** What the management of courses works with. */
export interface ManagementParts {
  readonly db: Db;
  readonly audit: Audit;
  readonly codes: SignInCodes;
  readonly now: () => Date;
}
