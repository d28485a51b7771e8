/** Where a command writes. */
export interface Output {
  out(text: string): void;
  err(text: string): void;
}
