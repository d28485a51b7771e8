import { z } from 'zod';

/** RFC 9457 problem document. `title` is what is wrong, in a sentence for a person; `detail` what to do or where. */
export const Problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  detail: z.string().optional(),
  instance: z.string().optional(),
  /** Fields of the request that were refused. */
  fields: z.array(z.object({ field: z.string(), message: z.string() })).optional(),
});
export type Problem = z.infer<typeof Problem>;
