/** On which side of what is wanted something lies, by its difference from it. */
export const sideOf = (difference: number): -1 | 0 | 1 => (difference > 0 ? 1 : difference < 0 ? -1 : 0);
