import { z } from 'zod';
import { Id, plain, Role, Timestamp } from './vocabulary.ts';

export const Person = z.object({ id: Id, name: z.string(), role: Role });
export type Person = z.infer<typeof Person>;

export const SignIn = z.object({
  email: z.email('an e-mail address is needed').max(200),
  password: plain(200).min(1, 'a password is needed'),
  /** Of a second factor, where the person has one. */
  code: plain(40).optional(),
});
export type SignIn = z.infer<typeof SignIn>;

/** Who is signed in, and how somebody may. */
export const Session = z.object({
  person: Person.nullable(),
  /** Everybody here is invented. */
  demo: z.boolean(),
  /** The school sends mail. */
  mail: z.boolean(),
  /** What the school's own provider of identities is called; null where it has none. */
  provider: z.string().nullable(),
});
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

/** A second factor: since when it is asked for, null where it is not; and how many recovery codes are left. */
export const SecondFactor = z.object({ since: Timestamp.nullable(), recoveryCodes: z.number().int() });
export type SecondFactor = z.infer<typeof SecondFactor>;
/** A secret for a telephone, by itself and as an address that it reads as a picture (otpauth). */
export const NewFactor = z.object({ secret: z.string(), address: z.string() });
export type NewFactor = z.infer<typeof NewFactor>;
export const FactorCode = z.object({ code: plain(40).min(1, 'a code is needed') });
/** Codes that are taken once each in place of the telephone's; told when they are made, and never again. */
export const RecoveryCodes = z.object({ recoveryCodes: z.array(z.string()) });
export type RecoveryCodes = z.infer<typeof RecoveryCodes>;

/** One place where a person is signed in. */
export const OwnSession = z.object({
  id: z.string(),
  began: Timestamp,
  browser: z.string(),
  /** The one that asks. */
  own: z.boolean(),
});
export type OwnSession = z.infer<typeof OwnSession>;

/** A passkey, as its owner sees it. */
export const Passkey = z.object({ id: z.string(), name: z.string(), since: Timestamp, usedAt: Timestamp.nullable() });
export type Passkey = z.infer<typeof Passkey>;
/** What a browser is asked, and what it answers: of W3C *Web Authentication*, passed on as it is. */
export const PasskeyQuestion = z.object({ options: z.looseObject({ challenge: z.string() }) });
export type PasskeyQuestion = z.infer<typeof PasskeyQuestion>;
export const PasskeyAnswer = z.object({ response: z.looseObject({ id: z.string().min(1).max(1400) }) });
export type PasskeyAnswer = z.infer<typeof PasskeyAnswer>;
export const NewPasskey = PasskeyAnswer.extend({ name: plain(80).trim().min(1, 'a name is needed') });
export type NewPasskey = z.infer<typeof NewPasskey>;

export const Invitation = z.object({ name: z.string(), email: z.string(), expires: Timestamp });
export type Invitation = z.infer<typeof Invitation>;
export const InvitationAnswer = z.object({ password: NewPassword });
export type InvitationAnswer = z.infer<typeof InvitationAnswer>;

/** Where somebody's calendar of dates is found: told once, when it is made. */
export const CalendarAddress = z.object({ address: z.string().nullable() });
export type CalendarAddress = z.infer<typeof CalendarAddress>;
