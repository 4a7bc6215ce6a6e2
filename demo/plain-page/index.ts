/** The pages of stand-ins: as plain as they can be, so that nobody takes them for more. */
import { html } from 'hono/html';

export type Markup = ReturnType<typeof html>;

export const plainPage = (title: string, what: string, content: Markup): Markup =>
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
          article {
            border-top: 1px solid #888;
          }
          pre {
            white-space: pre-wrap;
            font: inherit;
          }
        </style>
      </head>
      <body>
        <p>${what}</p>
        ${content}
      </body>
    </html>`;
