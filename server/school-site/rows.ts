/** What both the way in and the grades write of a site: who its people are here, and which column an assignment has. */
import type { Db } from '#server/db';

export const siteStatements = (db: Db) => ({
  /** Changes nothing where the person, or the account, is connected already. */
  connect: db.prepare<[siteId: number, subject: string, userId: number]>(
    'INSERT INTO site_people (site_id, subject, user_id) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
  ),
  setLineItem: db.prepare<[assignmentId: number, siteId: number, url: string]>(
    `INSERT INTO site_line_items (assignment_id, site_id, url) VALUES (?, ?, ?)
     ON CONFLICT DO UPDATE SET site_id = excluded.site_id, url = excluded.url`,
  ),
});
