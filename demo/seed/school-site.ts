/** The stand-in of the school's site, as it is known in the demo: registered, and its course connected with a section. */
import { INSTRUCTOR, SECTION } from '#demo/course';
import { courseServicesOf, registrationOf, SITE_NAME, SITE_PEOPLE } from '#demo/school-site';
import type { Db } from '#server/db';

/** Registers the stand-in that is reached at an address; it forgets columns and grades when it ends, so that these go too. */
export function registerStandIn(db: Db, origin: string): void {
  const site = registrationOf(origin);
  const course = courseServicesOf(origin);
  const idOf = (sql: string, value: string): number | undefined => db.prepare<[string], number>(sql).pluck().get(value);
  const [sectionId, orlaId] = [
    idOf('SELECT id FROM sections WHERE name = ?', SECTION),
    idOf('SELECT id FROM users WHERE login = ?', INSTRUCTOR.login),
  ];
  if (sectionId === undefined || orlaId === undefined) return;
  db.transaction(() => {
    if (idOf('SELECT id FROM school_sites WHERE name = ?', SITE_NAME) === undefined)
      db.prepare(
        `INSERT INTO school_sites (name, issuer, client_id, deployment_id, sign_in_url, token_url, keys_url, created_at)
         VALUES (?, '', ?, ?, '', '', '', ?)`,
      ).run(SITE_NAME, site.clientId, site.deploymentId, new Date().toISOString());
    const siteId = idOf('SELECT id FROM school_sites WHERE name = ?', SITE_NAME);
    db.prepare('UPDATE school_sites SET issuer = ?, sign_in_url = ?, token_url = ?, keys_url = ? WHERE id = ?').run(
      site.issuer,
      site.signInUrl,
      site.tokenUrl,
      site.keysUrl,
      siteId,
    );
    const orla = SITE_PEOPLE.find(({ name }) => name === INSTRUCTOR.name);
    db.prepare('INSERT INTO site_people (site_id, subject, user_id) VALUES (?, ?, ?) ON CONFLICT DO NOTHING').run(
      siteId,
      orla?.id,
      orlaId,
    );
    db.prepare(
      `INSERT INTO site_courses (site_id, context_id, section_id, title, members_url, line_items_url)
       VALUES (?, ?, ?, ?, ?, ?)
       ON CONFLICT (site_id, context_id) DO UPDATE SET members_url = excluded.members_url, line_items_url = excluded.line_items_url`,
    ).run(siteId, course.contextId, sectionId, course.title, course.membersUrl, course.lineItemsUrl);
    db.prepare(
      'DELETE FROM sent_grades WHERE assignment_id IN (SELECT assignment_id FROM site_line_items WHERE site_id = ?)',
    ).run(siteId);
    db.prepare('DELETE FROM site_line_items WHERE site_id = ?').run(siteId);
  })();
}
