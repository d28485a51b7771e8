import { z } from 'zod';
import { Id, Timestamp } from './vocabulary.ts';

/** A message as it would be sent. Nothing is: the outbox stands in for a mail server. */
export const Message = z.object({
  id: z.string(),
  to: z.object({ id: Id, name: z.string(), email: z.string() }),
  /** What it tells of. */
  about: z.enum(['set', 'sent back', 'signed off', 'invited', 'shown', 'brief changed']),
  subject: z.string(),
  text: z.string(),
  /** The address of an invitation, which ends the message; null for whoever may not see it. */
  link: z.string().nullable(),
  at: Timestamp,
});
export type Message = z.infer<typeof Message>;

export const Outbox = z.object({ messages: z.array(Message), next: z.string().nullable() });
export type Outbox = z.infer<typeof Outbox>;
