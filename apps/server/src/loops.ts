import { Logger } from '@nestjs/common';

const LARGEST_PAUSE_MS = 10_000;
/** Work that is under way when a process ends is waited for so long. */
const GOODBYE_MS = 3_000;

/** Work that a process does again and again. Whatever the database does, it waits and goes on. */
export class Loops {
  private readonly logger: Logger;
  private readonly running: Promise<void>[] = [];
  private readonly sleeping = new Set<() => void>();
  private ended = false;

  /** @param whose in whose name failures are logged */
  constructor(whose: string) {
    this.logger = new Logger(whose);
  }

  /**
   * Does something again and again, more slowly while it fails.
   *
   * @param pause milliseconds between one time and the next where there is nothing to do
   * @param work says whether there is more at once
   */
  add(what: string, pause: number, work: () => Promise<boolean>): void {
    this.running.push(this.forever(what, pause, work));
  }

  async end(): Promise<void> {
    this.ended = true;
    for (const wake of this.sleeping) wake();
    await Promise.race([Promise.all(this.running), new Promise((resolve) => setTimeout(resolve, GOODBYE_MS).unref())]);
  }

  private async forever(what: string, pause: number, work: () => Promise<boolean>): Promise<void> {
    let failures = 0;
    while (!this.ended) {
      try {
        const more = await work();
        failures = 0;
        if (!more) await this.sleep(pause);
      } catch (error) {
        if (this.ended) return;
        failures++;
        this.logger.warn(`${what}: ${error instanceof Error ? error.message : String(error)}`);
        await this.sleep(Math.min(LARGEST_PAUSE_MS, pause * 2 ** Math.min(failures, 6)));
      }
    }
  }

  private async sleep(milliseconds: number): Promise<void> {
    // What was under way when the process ended sleeps no more.
    if (this.ended) return;
    await new Promise<void>((resolve) => {
      const wake = (): void => {
        clearTimeout(timer);
        this.sleeping.delete(wake);
        resolve();
      };
      const timer = setTimeout(wake, milliseconds);
      this.sleeping.add(wake);
    });
  }
}
