/** The pages of the stand-in: as plain as they can be, so that nobody takes it for a site of its own. */
import { html } from 'hono/html';

import { plainPage, type Markup } from '#demo/plain-page';

import { SCHOOL, SITE_COURSE, SITE_NAME, SITE_PEOPLE, type SitePerson, type SiteState } from './state.ts';

const page = (title: string, content: Markup): Markup =>
  plainPage(title, `Stand-in of a school's site, ${SCHOOL}. Everything here is made up.`, content);

/** Who are you? There are no passwords here. */
export const peoplePage = (): Markup =>
  page(
    SITE_NAME,
    html`<h1>${SITE_NAME}</h1>
      <p>Choose who you are:</p>
      <form method="post" action="/person">
        ${SITE_PEOPLE.map(
          ({ id, name, role }) => html`<p><button name="person" value="${id}">${name}</button> ${role}</p>`,
        )}
      </form>`,
  );

/** The course with its links; for those who teach, its grades too. */
export const coursePage = (person: SitePerson, { links, columns }: SiteState): Markup =>
  page(
    SITE_COURSE.title,
    html`<h1>${SITE_COURSE.title}</h1>
      <p>You are ${person.name}, ${person.role}. <a href="/">Be somebody else</a></p>
      <ul>
        ${[...links.values()].map(({ id, title }) => html`<li><a href="/open/${id}">${title}</a></li>`)}
      </ul>
      ${
        person.role === 'student'
          ? ''
          : html`<p><a href="/choose">Add exercises of Zorvet to the course</a></p>
              <h2>Grades</h2>
              ${gradesTable(columns)}`
      }`,
  );

function gradesTable(columns: SiteState['columns']): Markup {
  const all = [...columns.values()];
  if (all.length === 0) return html`<p>No grades have been sent yet.</p>`;
  const cell = (column: (typeof all)[number], personId: string): string => {
    const score = column.scores.get(personId);
    return score === undefined ? '' : `${String(score.score)} of ${String(score.outOf)}`;
  };
  return html`<table>
    <thead>
      <tr>
        <th>Student</th>
        ${all.map(({ label }) => html`<th>${label}</th>`)}
      </tr>
    </thead>
    <tbody>
      ${SITE_PEOPLE.filter(({ role }) => role === 'student').map(
        ({ id, name }) =>
          html`<tr>
            <td>${name}</td>
            ${all.map((column) => html`<td>${cell(column, id)}</td>`)}
          </tr>`,
      )}
    </tbody>
  </table>`;
}

/** Sends a form on, as a site does with the token of a launch. */
export const sendingPage = (to: string, fields: Readonly<Record<string, string>>): Markup =>
  page(
    SITE_NAME,
    html`<form method="post" action="${to}">
        ${Object.entries(fields).map(([name, value]) => html`<input type="hidden" name="${name}" value="${value}" />`)}
        <button>Go on</button>
      </form>
      <script>
        document.forms[0].submit();
      </script>`,
  );
