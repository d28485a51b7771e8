import { z } from 'zod';
import { Id, plain, Role, Timestamp } from './vocabulary.ts';

export const Person = z.object({ id: Id, name: z.string(), role: Role });
export type Person = z.infer<typeof Person>;

export const SignIn = z.object({
  email: z.email('an e-mail address is needed').max(200),
  password: plain(200).min(1, 'a password is needed'),
});
export type SignIn = z.infer<typeof SignIn>;

/** Who is signed in; whether everybody here is invented; whether the school sends mail. */
export const Session = z.object({ person: Person.nullable(), demo: z.boolean(), mail: z.boolean() });
export type Session = z.infer<typeof Session>;

/** Who has forgotten a password. */
export const Forgotten = SignIn.pick({ email: true });
export type Forgotten = z.infer<typeof Forgotten>;

export const DemoPerson = Person.extend({ cohorts: z.array(z.string()), line: z.string() });
export type DemoPerson = z.infer<typeof DemoPerson>;
export const DemoSignIn = z.object({ person: Id });

const NewPassword = plain(200).min(10, 'ten characters or more');

export const PasswordChange = z.object({ old: plain(200).min(1, 'your password is needed'), password: NewPassword });
export type PasswordChange = z.infer<typeof PasswordChange>;

/** One place where a person is signed in. */
export const OwnSession = z.object({
  id: z.string(),
  began: Timestamp,
  browser: z.string(),
  /** The one that asks. */
  own: z.boolean(),
});
export type OwnSession = z.infer<typeof OwnSession>;

export const Invitation = z.object({ name: z.string(), email: z.string(), expires: Timestamp });
export type Invitation = z.infer<typeof Invitation>;
export const InvitationAnswer = z.object({ password: NewPassword });
export type InvitationAnswer = z.infer<typeof InvitationAnswer>;

/** Where somebody's calendar of dates is found: told once, when it is made. */
export const CalendarAddress = z.object({ address: z.string().nullable() });
export type CalendarAddress = z.infer<typeof CalendarAddress>;
