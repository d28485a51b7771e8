/** Wrong usage that only shows once the arguments are read together. */
export class UsageError extends Error {}
