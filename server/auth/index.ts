/** Accounts, passwords and sessions. */
export { hashPassword, newPassword, resetPassword, verifyPassword } from './password.ts';
export { createSessions, type Sessions } from './session.ts';
export { authRoutes, identify } from './routes.ts';
export { joinStaff, staffMay } from './staff.ts';
