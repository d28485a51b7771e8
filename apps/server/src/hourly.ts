import { Logger } from '@nestjs/common';

const HOUR_MS = 60 * 60 * 1000;

/** Work that a process does when it starts, and once an hour from then on. Where it fails that is logged, and it is done again in an hour. */
export class Hourly {
  private readonly timer: NodeJS.Timeout;

  /**
   * @param whose in whose name failures are logged
   * @param failed what is said of one
   */
  constructor(whose: string, failed: string, work: () => Promise<unknown>) {
    const logger = new Logger(whose);
    const once = (): void => void work().catch((error: unknown) => logger.warn(`${failed}: ${String(error)}`));
    this.timer = setInterval(once, HOUR_MS);
    this.timer.unref();
    once();
  }

  end(): void {
    clearInterval(this.timer);
  }
}
