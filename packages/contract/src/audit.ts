import { z } from 'zod';
import { Id, Timestamp } from './vocabulary.ts';

/** What is written down of what people do, so that it can be looked up who did it. */
export const AUDIT_KINDS = ['sign-in', 'roles', 'export', 'deletion'] as const;
export const AuditKind = z.enum(AUDIT_KINDS);
export type AuditKind = z.infer<typeof AuditKind>;

/** What a route does that is written down: its kind, and what somebody did by it, in words that follow a name. */
export interface Noted {
  readonly kind: AuditKind;
  readonly did: string;
  /** What they did who were refused, where that is written down as well. */
  readonly refused?: string;
}

/** Tables that leave the school by a page, which makes them of what it has. */
export const EXPORTS = ['the ledger', 'the grades'] as const;
export const ExportNote = z.object({ what: z.enum(EXPORTS), cohort: Id });

export const AuditEntry = z.object({
  id: z.string(),
  at: Timestamp,
  kind: AuditKind,
  /** Who did it: a person as they were called then, or the command line. */
  who: z.string(),
  /** Their id, where it was a person. */
  person: Id.nullable(),
  /** What they did, in words that follow the name. */
  did: z.string(),
  /** What it was about: a cohort, a shot, a brief; empty where that is said already. */
  about: z.string(),
});
export type AuditEntry = z.infer<typeof AuditEntry>;

export const AuditQuery = z.object({ kind: AuditKind.optional(), after: z.string().max(40).optional() });

export const Audit = z.object({
  entries: z.array(AuditEntry),
  next: z.string().nullable(),
  /** After so many days an entry goes. */
  days: z.number().int(),
});
export type Audit = z.infer<typeof Audit>;
