import { z } from 'zod';
import { Id, Role } from './vocabulary.ts';

export const Person = z.object({ id: Id, name: z.string(), role: Role });
export type Person = z.infer<typeof Person>;

export const SignIn = z.object({
  email: z.email('an e-mail address is needed').max(200),
  password: z.string().min(1, 'a password is needed').max(200),
});
export type SignIn = z.infer<typeof SignIn>;

export const Session = z.object({ person: Person.nullable(), demo: z.boolean() });
export type Session = z.infer<typeof Session>;

export const DemoPerson = Person.extend({ cohorts: z.array(z.string()), line: z.string() });
export type DemoPerson = z.infer<typeof DemoPerson>;
export const DemoSignIn = z.object({ person: Id });
