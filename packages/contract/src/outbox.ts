import { z } from 'zod';
import { Id, Timestamp } from './vocabulary.ts';

/** A message as it is sent; where the school has no mail server, as it would be. */
export const Message = z.object({
  id: z.string(),
  to: z.object({ id: Id, name: z.string(), email: z.string() }),
  /** What it tells of. */
  about: z.enum(['set', 'sent back', 'signed off', 'invited', 'shown', 'brief changed', 'password forgotten']),
  subject: z.string(),
  text: z.string(),
  /** The address of an invitation, which ends the message; null for whoever may not see it. */
  link: z.string().nullable(),
  at: Timestamp,
  /** Kept where it is written, waiting for the mail server, handed over to it, or refused by it. */
  state: z.enum(['kept', 'waits', 'sent', 'given up']),
  /** Why it was given up. */
  why: z.string().nullable(),
});
export type Message = z.infer<typeof Message>;

export const Outbox = z.object({
  messages: z.array(Message),
  next: z.string().nullable(),
  /** Whether the school sends mail. */
  mail: z.boolean(),
});
export type Outbox = z.infer<typeof Outbox>;
