/** The school's site: how its people come in, which courses are which sections, and the grades that it is told (LTI 1.3). */
import type { Audit } from '#server/audit';
import type { Db } from '#server/db';
import type { Gradebooks } from '#server/gradebook';

import { createArrivals } from './arrivals.ts';
import { createSigningKeys } from './keys.ts';
import { createLaunches } from './launch.ts';
import { createPassback } from './passback.ts';
import { createSiteServices } from './services.ts';
import { createSites } from './sites.ts';

export { schoolSiteRoutes } from './routes.ts';

export interface SchoolSiteParts {
  readonly db: Db;
  readonly audit: Audit;
  readonly gradebooks: Pick<Gradebooks, 'of'>;
  readonly fetch: typeof fetch;
  readonly now: () => Date;
}

/** All that speaks with sites of schools. */
export function createSchoolSite({ db, audit, gradebooks, fetch: fetchFrom, now }: SchoolSiteParts) {
  const keys = createSigningKeys(db, now);
  const sites = createSites(db, audit, now);
  const services = createSiteServices(keys, fetchFrom, now);
  return {
    keys,
    sites,
    launches: createLaunches({ db, sites, fetch: fetchFrom, now }),
    arrivals: createArrivals({ db, sites, audit, now }),
    passback: createPassback({ db, sites, services, gradebooks, audit, now }),
  };
}
