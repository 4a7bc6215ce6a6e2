/** The pages of the stand-in: as plain as they can be, so that nobody takes it for a site of its own. */
import { html } from 'hono/html';

import { SCHOOL, SITE_COURSE, SITE_NAME, SITE_PEOPLE, type SitePerson, type SiteState } from './state.ts';

type Markup = ReturnType<typeof html>;

const page = (title: string, content: Markup): Markup =>
  html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width" />
        <title>${title}</title>
        <style>
          body {
            font: 16px/1.5 sans-serif;
            max-width: 46rem;
            margin: 2rem auto;
            padding: 0 1rem;
          }
          table {
            border-collapse: collapse;
          }
          td,
          th {
            border: 1px solid #888;
            padding: 0.2rem 0.6rem;
            text-align: left;
          }
          li {
            margin: 0.3rem 0;
          }
        </style>
      </head>
      <body>
        <p>Stand-in of a school's site, ${SCHOOL}. Everything here is made up.</p>
        ${content}
      </body>
    </html>`;

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
