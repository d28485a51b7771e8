/** Variables of an environment file, or of `Environment=` settings. */
export function environmentFile(text: string): Record<string, string>;

/** What a unit of a template starts. */
export function startedAs(
  unit: string,
  instance: string,
  file: Record<string, string>,
): {
  readonly command: string;
  readonly program: string;
  readonly args: readonly string[];
  readonly folder: string | undefined;
  readonly user: string | undefined;
  readonly environmentPath: string | undefined;
  readonly environment: Record<string, string>;
};
