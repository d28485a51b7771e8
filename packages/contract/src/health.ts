import { z } from 'zod';

/** How the server is: told to whoever watches over it. */
export const Health = z.object({ status: z.string(), database: z.boolean(), room: z.boolean(), core: z.string() });
export type Health = z.infer<typeof Health>;
