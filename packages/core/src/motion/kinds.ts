/** Kinds of exercise. */
export const KINDS = ['walk', 'run', 'jump', 'take', 'turn', 'overlap', 'idle', 'any'] as const;
export type Kind = (typeof KINDS)[number];

/** Kinds of which some can loop: only in those a loop is looked for. */
export const LOOPING: readonly Kind[] = ['walk', 'run', 'idle', 'overlap', 'any'];

/** Kinds in which somebody walks or runs. */
export const GAITS: readonly Kind[] = ['walk', 'run', 'any'];

/** Kinds that move and rest; a walk never rests. */
export const HOLDING: readonly Kind[] = ['jump', 'take', 'turn', 'overlap', 'idle', 'any'];

/** Kinds in which somebody stands on feet. */
export const STANDING: readonly Kind[] = ['walk', 'run', 'jump', 'take', 'turn', 'idle', 'any'];
