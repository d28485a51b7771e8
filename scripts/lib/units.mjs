// How systemd reads a unit, as far as the project's own go: for starting the processes as they are documented where no systemd runs.

/**
 * Variables of an environment file, or of `Environment=` settings.
 * @param {string} text lines `NAME=value`; what begins with # or ; is a comment
 * @returns {Record<string, string>}
 */
export function environmentFile(text) {
  const lines = text.split('\n').map((line) => line.trim());
  return Object.fromEntries(
    lines
      .filter((line) => line !== '' && !/^[#;]/.test(line) && line.includes('='))
      .map((line) => {
        const at = line.indexOf('=');
        return [line.slice(0, at), line.slice(at + 1).replace(/^(["'])(.*)\1$/, '$2')];
      }),
  );
}

/**
 * What a unit of a template starts: its program, arguments and environment. Settings of `EnvironmentFile=` override those of `Environment=`
 * (systemd.exec, EnvironmentFile=); `%i` is the instance (systemd.unit, specifiers).
 *
 * @param {string} unit its text
 * @param {string} instance what stands behind the @
 * @param {Record<string, string>} file what the environment file says
 */
export function startedAs(unit, instance, file) {
  const said = unit
    .split('\n')
    .filter((line) => /^\w+=/.test(line))
    .map((line) => line.replaceAll('%i', instance))
    .map((line) => [line.slice(0, line.indexOf('=')), line.slice(line.indexOf('=') + 1)]);
  const all = (name) => said.filter(([own]) => own === name).map(([, value]) => value);
  const [command, ...rest] = all('ExecStart').at(-1).split(/\s+/);
  const [program, ...args] = rest;
  return {
    command,
    program,
    args,
    folder: all('WorkingDirectory').at(-1),
    user: all('User').at(-1),
    environmentPath: all('EnvironmentFile').at(-1),
    environment: { ...environmentFile(all('Environment').join('\n').replaceAll(' ', '\n')), ...file },
  };
}
