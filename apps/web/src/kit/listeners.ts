/** Functions that are called whenever something has changed. */
export class Listeners {
  private readonly all = new Set<() => void>();

  /** @returns takes the listener away again */
  subscribe = (listener: () => void): (() => void) => {
    this.all.add(listener);
    return () => this.all.delete(listener);
  };

  tell = (): void => {
    for (const listener of [...this.all]) listener();
  };

  clear(): void {
    this.all.clear();
  }
}
