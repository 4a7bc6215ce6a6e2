/** Accounts, passwords, codes and sessions. */
export { createAccounts, newJoinCode, newSetupCode, type Accounts } from './account.ts';
export { createSignInCodes, type SignInCodes } from './codes.ts';
export { enter, type Entry } from './entry.ts';
export { createSignInLimits } from './limits.ts';
export { createPasswordDoor, type PasswordDoor } from './password-door.ts';
export { hashPassword, newPassword, resetPassword, verifyPassword } from './password.ts';
export { checkPassword } from './policy.ts';
export { createSessions, type Sessions } from './session.ts';
export { authRoutes, identify } from './routes.ts';
export { hashToken } from './token.ts';
export { joinStaff, staffMay } from './staff.ts';
