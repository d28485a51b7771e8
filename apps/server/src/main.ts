import 'reflect-metadata';
import { createApplication } from './application.ts';
import { readConfiguration } from './config.ts';
import { migrate } from './database/migrations.ts';
import { openDatabase } from './database/database.module.ts';
import { isConnectionLoss } from './http/problem.filter.ts';
import { seedDemo } from './demo/seed.ts';

/** One process: brings the database up to date, fills the demo when asked to, and serves, reads shots, or both. */
async function main(): Promise<void> {
  // A promise that nobody waited for, in whatever library, ends no process that others wait for.
  process.on('unhandledRejection', (reason) => {
    console.error('a failure nobody waited for:', reason instanceof Error ? reason.message : reason);
  });
  const configuration = readConfiguration(process.env);
  const database = openDatabase(configuration.DATABASE_URL, {});
  await whenThere(() => migrate(database));
  await database.close();
  const app = await whenThere(() => createApplication(configuration));
  // Started by another process that has ended, however it ended: end as well.
  process.on('disconnect', () => void app.close().finally(() => process.exit()));
  if (configuration.PROCESS === 'worker') {
    await app.init();
    return;
  }
  await app.listen(configuration.PORT, configuration.HOST);
  if (configuration.DEMO) await seedDemo(app);
  // Said to the process that started this one, if any.
  process.send?.({ address: await app.getUrl() });
}

/** A database that starts at the same time is waited for, a minute and a half at most. */
async function whenThere<T>(work: () => Promise<T>): Promise<T> {
  const until = Date.now() + 90_000;
  for (;;) {
    try {
      return await work();
    } catch (error) {
      if (Date.now() > until || !isConnectionLoss(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, 1_000));
    }
  }
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  // Whatever was started by then must not keep a process alive that can't do its work.
  process.exit(1);
});
