/** The sites that are registered. */
import type { NewSchoolSite, SchoolSites, User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import type { Audit } from '#server/audit';
import type { Db } from '#server/db';

export interface SchoolSite extends NewSchoolSite {
  readonly id: number;
}

export interface Sites {
  list(): SchoolSites['sites'];
  add(by: User, site: NewSchoolSite): Result<number>;
  remove(by: User, id: number): Result<null>;
  find(id: number): SchoolSite | null;
  /** The site of a sign-in that is begun; where it does not say which client this is, the issuer's only one. */
  ofIssuer(issuer: string, clientId: string | null): SchoolSite | null;
  /** The registration of one deployment of a site's client. */
  ofDeployment(site: Pick<SchoolSite, 'issuer' | 'clientId'>, deploymentId: string): SchoolSite | null;
}

const COLUMNS = `id, name, issuer, client_id AS clientId, deployment_id AS deploymentId, sign_in_url AS signInUrl,
  token_url AS tokenUrl, keys_url AS keysUrl`;

export function createSites(db: Db, audit: Audit, now: () => Date): Sites {
  const all = db.prepare<[], SchoolSites['sites'][number]>(
    `SELECT ${COLUMNS}, (SELECT count(*) FROM site_people WHERE site_id = school_sites.id) AS people,
            (SELECT count(*) FROM site_courses WHERE site_id = school_sites.id) AS courses
     FROM school_sites ORDER BY name`,
  );
  const one = db.prepare<[number], SchoolSite>(`SELECT ${COLUMNS} FROM school_sites WHERE id = ?`);
  const byIssuer = db.prepare<[string], SchoolSite>(`SELECT ${COLUMNS} FROM school_sites WHERE issuer = ?`);
  const insert = db.prepare<[NewSchoolSite & { readonly createdAt: string }]>(
    `INSERT INTO school_sites (name, issuer, client_id, deployment_id, sign_in_url, token_url, keys_url, created_at)
     VALUES (@name, @issuer, @clientId, @deploymentId, @signInUrl, @tokenUrl, @keysUrl, @createdAt)
     ON CONFLICT DO NOTHING`,
  );
  const drop = db.prepare<[number]>('DELETE FROM school_sites WHERE id = ?');
  return {
    list: () => all.all(),
    find: (id) => one.get(id) ?? null,
    ofIssuer(issuer, clientId) {
      const found = byIssuer.all(issuer).filter((site) => clientId === null || site.clientId === clientId);
      return found.length === 1 || clientId !== null ? (found[0] ?? null) : null;
    },
    ofDeployment: ({ issuer, clientId }, deploymentId) =>
      byIssuer.all(issuer).find((site) => site.clientId === clientId && site.deploymentId === deploymentId) ?? null,
    add: (by, site) =>
      db.transaction((): Result<number> => {
        const added = insert.run({ ...site, createdAt: now().toISOString() });
        if (added.changes === 0)
          return refuse('site-registered', 'This site is registered already, with the same client and deployment.');
        audit.note({ by, courseId: null, what: "school's site", subject: site.name, after: site });
        return succeed(Number(added.lastInsertRowid));
      })(),
    remove: (by, id) =>
      db.transaction((): Result<null> => {
        const before = one.get(id);
        if (before === undefined) return refuse('not-found', 'There is no such site.');
        drop.run(id);
        audit.note({ by, courseId: null, what: "school's site removed", subject: before.name, before });
        return succeed(null);
      })(),
  };
}
