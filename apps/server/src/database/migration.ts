/** One step of the database, and the way back. */
export interface Migration {
  readonly name: string;
  readonly up: string;
  readonly down: string;
}
