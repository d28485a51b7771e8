/** A file's size in words: “310 kB”, “4.2 MB”. */
export const sizeOf = (bytes: number): string =>
  bytes < 1_048_576 ? `${Math.max(1, Math.round(bytes / 1024))} kB` : `${(bytes / 1_048_576).toFixed(1)} MB`;
