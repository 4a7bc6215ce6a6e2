import * as v from 'valibot';

import { RoleSchema } from './roles.ts';

export const UserSchema = v.object({
  id: v.number(),
  login: v.string(),
  name: v.string(),
  role: RoleSchema,
  /** Looks after the service, beside what the role says. */
  administers: v.boolean(),
});
export type User = v.InferOutput<typeof UserSchema>;

/** Who is signed in; null for nobody. */
export const SessionSchema = v.object({
  user: v.nullable(UserSchema),
  /** In which times are told: that of the course of who is signed in. */
  timeZone: v.string(),
  /** An archive is shown: nothing can be changed. */
  isReadOnly: v.boolean(),
});

export const SignInSchema = v.strictObject({
  login: v.pipe(v.string(), v.trim(), v.minLength(1, 'Type your sign-in name.'), v.maxLength(80)),
  password: v.pipe(v.string(), v.minLength(1, 'Type your password.'), v.maxLength(200)),
});
export type SignIn = v.InferOutput<typeof SignInSchema>;

/** Where a calendar program reads the due dates of who is signed in. Whoever has the address can read them. */
export const CalendarSchema = v.object({ address: v.string() });
export type CalendarAnswer = v.InferOutput<typeof CalendarSchema>;

/** Every refused request is answered with this. */
export const FailureSchema = v.object({ error: v.object({ code: v.string(), message: v.string() }) });
export type Failure = v.InferOutput<typeof FailureSchema>;
