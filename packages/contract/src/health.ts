import { z } from 'zod';

/** That the process lives, and its version of the core. */
export const Health = z.object({ alive: z.literal(true), core: z.string() });
export type Health = z.infer<typeof Health>;

/** Whether it can do its work: told to whoever watches over it. */
export const Ready = z.object({
  status: z.string(),
  database: z.boolean(),
  files: z.boolean(),
  room: z.boolean(),
  core: z.string(),
});
export type Ready = z.infer<typeof Ready>;
