/** Before this long the clock is asked again and again: timers alone round up to whole milliseconds. */
const CLOSE_MS = 1.5;

/** Runs what it is given after a delay, always in the order given, even while the delay changes. */
export class Delay {
  private readonly queue: { dueMs: number; run: () => void }[] = [];
  private timer: NodeJS.Timeout | null = null;
  private stopped = false;

  /** `exact`: to a fraction of a millisecond, at the price of some computing for each. */
  constructor(private readonly exact: boolean) {}

  add(delayMs: number, run: () => void): void {
    const last = this.queue.at(-1)?.dueMs ?? 0;
    this.queue.push({ dueMs: Math.max(last, performance.now() + delayMs), run });
    if (this.queue.length === 1) this.plan();
  }

  stop(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    this.queue.length = 0;
  }

  private plan(): void {
    const [head] = this.queue;
    if (!head || this.stopped) return;
    const leftMs = head.dueMs - performance.now();
    if (this.exact && leftMs < CLOSE_MS) setImmediate(this.work);
    else this.timer = setTimeout(this.work, Math.max(0, leftMs - (this.exact ? CLOSE_MS : 0)));
  }

  private readonly work = (): void => {
    while (this.queue[0] && this.queue[0].dueMs <= performance.now()) this.queue.shift()?.run();
    this.plan();
  };
}
