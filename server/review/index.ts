/** What instructors make of attempts, and what students say about reports. */
export { createReviews, type Reviews } from './reviews.ts';
export { reviewRoutes } from './routes.ts';
