/** A value that pages show and that is said from anywhere: for `useSyncExternalStore`. */
export class Watched<T> {
  private readonly watchers = new Set<() => void>();

  constructor(private value: T) {}

  readonly get = (): T => this.value;

  /** @returns How to stop watching. */
  readonly watch = (watcher: () => void): (() => void) => {
    this.watchers.add(watcher);
    return () => void this.watchers.delete(watcher);
  };

  set(value: T): void {
    if (Object.is(value, this.value)) return;
    this.value = value;
    for (const watcher of this.watchers) watcher();
  }
}
