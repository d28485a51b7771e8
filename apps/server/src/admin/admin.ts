import { parseArgs } from 'node:util';
import { NestFactory } from '@nestjs/core';
import { directUrl, readConfiguration } from '../config.ts';
import { migrate } from '../database/migrations.ts';
import { openDatabase } from '../database/database.module.ts';
import { NO_LIMITS } from '../database/limits.ts';
import { AuditService, type Note } from '../audit/audit.service.ts';
import { AdminModule } from './admin.module.ts';
import { AdminError, School } from './school.ts';
import { backUp, restore, verify } from './backup.ts';
import { prune } from './prune.ts';
import { moveFiles } from './move-files.ts';

const USAGE = `Usage: ypsigraph-admin COMMAND, with the server's own environment (DATABASE_URL, FILES_DIR)

  migrate                                                brings the database to the newest version
  add-cohort NAME --time-zone ZONE [--term TERM]         a course; its dates are meant in its zone, as Europe/London
  add-person NAME EMAIL --role instructor|assistant|student [--cohort NAME]…
                                                         adds somebody, and prints the invitation to send them
  enrol EMAIL COHORT                                     into one more cohort, in the role they have
  invite EMAIL                                           another invitation: a lost password is set anew by it
  drop-second-factor EMAIL                               who has lost both telephone and recovery codes signs in without
  archive EMAIL | restore-person EMAIL                   takes somebody out, who can't sign in then; or back in
  forget EMAIL                                           deletes the files and words of a student who was taken out, for good; what is
                                                         counted stays
  list                                                   cohorts and people
  add-brief TITLE --kind KIND [--text TEXT] [--fps N] [--frames N] [--loop auto|none|repeat|follow]
  backup FOLDER                                          database and files, consistent, while the server runs
  restore FOLDER [--verify]                              into an empty database and an empty folder of files; with --verify
                                                         only looks whether the backup is whole
  prune DAY                                              removes what nobody looks at once a term is over: readings of earlier
                                                         revisions and versions, messages, of exercises due before the day
  move-files [--remove]                                  from where files were kept to FILES_HOME, while the server runs; with
                                                         --remove each leaves its old home once the new one has it whole

  --address https://desk.example   what an invitation's address begins with (default: PUBLIC_URL)
`;

const OPTIONS = {
  role: { type: 'string' },
  cohort: { type: 'string', multiple: true },
  term: { type: 'string' },
  kind: { type: 'string' },
  text: { type: 'string' },
  fps: { type: 'string' },
  frames: { type: 'string' },
  loop: { type: 'string' },
  address: { type: 'string' },
  'time-zone': { type: 'string' },
  verify: { type: 'boolean' },
  remove: { type: 'boolean' },
  help: { type: 'boolean' },
} as const;

/**
 * Carries one command out.
 * @returns the exit code: 1 where it can't be done, 2 for wrong usage
 */
export async function runAdmin(args: readonly string[], environment: NodeJS.ProcessEnv): Promise<number> {
  let parsed;
  try {
    parsed = parseArgs({ args: [...args], options: OPTIONS, allowPositionals: true });
  } catch (error) {
    console.error(error instanceof Error ? error.message : error);
    return 2;
  }
  const [command, ...rest] = parsed.positionals;
  if (!command || parsed.values.help) {
    console.log(USAGE);
    return command ? 0 : 2;
  }
  try {
    return await carryOut(command, rest, parsed.values, environment);
  } catch (error) {
    console.error(error instanceof Error ? error.message : error);
    return error instanceof AdminError && error.usage ? 2 : 1;
  }
}

/** What is written down of a command. */
const NOTED: Readonly<Record<string, Pick<Note, 'kind' | 'did'>>> = {
  'add-person': { kind: 'roles', did: 'added' },
  enrol: { kind: 'roles', did: 'enrolled' },
  archive: { kind: 'roles', did: 'took out' },
  'restore-person': { kind: 'roles', did: 'took in again' },
  invite: { kind: 'sign-in', did: 'invited' },
  'drop-second-factor': { kind: 'sign-in', did: 'dropped the second factor of' },
  prune: { kind: 'deletion', did: 'removed what is over before' },
  backup: { kind: 'export', did: 'made a backup in' },
  'move-files': { kind: 'export', did: 'moved all files to their other home' },
};

type Values = ReturnType<typeof parseArgs<{ options: typeof OPTIONS }>>['values'];

async function carryOut(
  command: string,
  rest: readonly string[],
  values: Values,
  environment: NodeJS.ProcessEnv,
): Promise<number> {
  const configuration = readConfiguration({
    // Signing in has nothing to do with what is done here.
    SESSION_SECRET: 'nobody signs in through these commands',
    ...environment,
    PROCESS: 'server',
    LOG_LEVEL: 'error',
  });
  const argument = (k: number, what: string): string => {
    const value = rest[k];
    if (!value) throw new AdminError(`${command} needs ${what}`, true);
    return value;
  };
  if (command === 'restore') {
    const folder = argument(0, 'a folder');
    console.log(await (values.verify ? verify(folder) : restore(configuration, folder)));
    return 0;
  }
  const database = openDatabase(directUrl(configuration), NO_LIMITS, 2);
  const done = await migrate(database).finally(() => database.close());
  if (command === 'migrate') {
    console.log(done.length > 0 ? `done: ${done.join(', ')}` : 'nothing to do');
    return 0;
  }
  const app = await NestFactory.createApplicationContext(AdminModule.with(configuration), { logger: ['error'] });
  try {
    const school = app.get(School);
    const address = values.address ?? environment.PUBLIC_URL ?? 'http://127.0.0.1:3000';
    const commands: Readonly<Record<string, () => Promise<string>>> = {
      'add-cohort': () => school.addCohort(argument(0, 'a name'), values.term ?? '', values['time-zone']),
      'add-person': () =>
        school.addPerson(
          argument(0, 'a name'),
          argument(1, 'an e-mail address'),
          values.role,
          values.cohort ?? [],
          address,
        ),
      enrol: () => school.enrol(argument(0, 'an e-mail address'), argument(1, 'a cohort')),
      invite: () => school.invite(argument(0, 'an e-mail address'), address),
      'drop-second-factor': () => school.dropSecondFactor(argument(0, 'an e-mail address')),
      archive: () => school.archive(argument(0, 'an e-mail address'), true),
      'restore-person': () => school.archive(argument(0, 'an e-mail address'), false),
      forget: () => school.forget(argument(0, 'an e-mail address')),
      list: () => school.list(),
      'add-brief': () => school.addBrief(argument(0, 'a title'), values),
      backup: () =>
        backUp(configuration, argument(0, 'a folder'), () =>
          console.log('the database is dumped; copying its files …'),
        ),
      prune: () => prune(configuration, argument(0, 'the first day that is kept')),
      'move-files': () => moveFiles(configuration, values.remove ?? false, (line) => console.log(line)),
    };
    const work = commands[command];
    if (!work) throw new AdminError(`there is no command “${command}”\n\n${USAGE}`, true);
    console.log(await work());
    const noted = NOTED[command];
    if (noted) await app.get(AuditService).note({ ...noted, about: rest.join(', ') });
    return 0;
  } finally {
    await app.close();
  }
}
