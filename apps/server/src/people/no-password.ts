/** In place of a password's hash: nobody has it, so nobody signs in by it. Its owner sets one by an invitation. */
export const NO_PASSWORD = '-';
