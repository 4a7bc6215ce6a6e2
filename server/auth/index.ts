/** Accounts, passwords and sessions. */
export { hashPassword, verifyPassword } from './password.ts';
export { createSessions, type Role, type Sessions, type User } from './session.ts';
export { authRoutes, identify } from './routes.ts';
