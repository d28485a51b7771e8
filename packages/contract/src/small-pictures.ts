import { z } from 'zod';

const place = z.number().int().min(-10_000).max(10_000);

/** A shot as a list shows it: a few poses as lines, or some of its pictures. */
export const SmallPicture = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('figure'),
    width: z.number().int(),
    height: z.number().int(),
    lines: z.array(z.object({ from: z.number().int(), to: z.number().int(), of: z.enum(['left', 'right', 'centre']) })),
    head: z.object({ at: z.number().int(), radius: z.number().int() }).nullable(),
    poses: z.array(z.array(place)).min(1),
    key: z.number().int().min(0),
  }),
  z.object({
    kind: z.literal('pictures'),
    /** Stored small pictures, by their number, and which of them stands for the shot. */
    pictures: z.array(z.number().int().min(0)).min(1),
    key: z.number().int().min(0),
  }),
  /** It is not read yet, or nothing of it can be drawn. */
  z.object({ kind: z.literal('none') }),
]);
export type SmallPicture = z.infer<typeof SmallPicture>;
