import 'reflect-metadata';
import { createApplication } from './application.ts';
import { directUrl, readConfiguration } from './config.ts';
import { migrate } from './database/migrations.ts';
import { openDatabase } from './database/database.module.ts';
import { NO_LIMITS } from './database/limits.ts';
import { waitForDatabase } from './database/wait-for-database.ts';
import { seedDemo } from './demo/seed.ts';

/** A database that is away, or hangs, answers no goodbye: so long it is waited for, less than whoever ends processes waits. */
const GOODBYE_MS = 10_000;

function endInAnyCase(): void {
  setTimeout(() => process.exit(1), GOODBYE_MS).unref();
}

/** One process: brings the database up to date, fills the demo when asked to, and serves, reads shots, or both. */
async function main(): Promise<void> {
  // A promise that nobody waited for, in whatever library, ends no process that others wait for.
  process.on('unhandledRejection', (reason) => {
    console.error('a failure nobody waited for:', reason instanceof Error ? reason.message : reason);
  });
  // Started by another process that has ended, however it ended: end as well.
  let end = (): void => process.exit();
  process.on('disconnect', () => end());
  const configuration = readConfiguration(process.env, process.argv.slice(2));
  const database = openDatabase(directUrl(configuration), NO_LIMITS, 2);
  await waitForDatabase(() => migrate(database));
  await database.close();
  const app = await createApplication(configuration);
  end = () => {
    endInAnyCase();
    void app.close().finally(() => process.exit());
  };
  for (const signal of ['SIGTERM', 'SIGINT']) process.once(signal, endInAnyCase);
  if (configuration.PROCESS === 'worker') {
    await app.init();
    return;
  }
  await app.listen(configuration.PORT, configuration.HOST);
  if (configuration.DEMO) await waitForDatabase(() => seedDemo(app));
  // Said to the process that started this one, if any.
  const address = await app.getUrl();
  if (process.connected) process.send?.({ address });
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  // Whatever was started by then must not keep a process alive that can't do its work.
  process.exit(1);
});
