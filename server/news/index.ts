/** What is new for each person, on the page and by mail. */
export { createNews, type News } from './news.ts';
export { newsRoutes } from './routes.ts';
export { createMailRound, type MailRound } from './mail-round.ts';
export { createPostOffice, mailSettings, type MailSettings, type PostOffice } from './post-office.ts';
