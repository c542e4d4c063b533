import type { Logger } from "pino";
import type { Db } from "../db/open";
import type { Drivers } from "../drivers/drivers";
import type { Hub } from "../http/hub";
import { LiveEvent } from "./liveEvent";
import { runningEvents, thinFinished } from "./store";

/** Samples are taken this long after the full second, when the encoders' own second is over. */
const OFFSET_MS = 300;
const EARLY_MS = 100;
const THIN_AFTER_MS = 14 * 86_400_000;

/** Every event whose encoder sends, looked at once a second; one thing at a time for each event. */
export class LiveEvents {
  private readonly running = new Map<string, LiveEvent>();
  private readonly turns = new Map<string, Promise<unknown>>();
  private readonly writing = new Set<string>();
  private timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly db: Db,
    private readonly drivers: Drivers,
    private readonly hub: Hub,
    private readonly log: Logger,
  ) {}

  /** Picks up what was running when the server last stopped, and starts the clock. */
  async start(): Promise<void> {
    const now = new Date();
    for (const eventId of await runningEvents(this.db)) {
      const live = await this.load(eventId, now);
      await live.sayStartedAgain(now);
      this.running.set(eventId, live);
      this.log.info({ eventId }, "picked up a running event");
    }
    await thinFinished(this.db, new Date(now.getTime() - THIN_AFTER_MS).toISOString());
    this.plan();
  }

  async stop(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    await Promise.allSettled(this.turns.values());
  }

  private plan(): void {
    // A timer may fire a moment early; the slack keeps it from firing twice for one second.
    const next = (Math.floor((Date.now() - OFFSET_MS + EARLY_MS) / 1000) + 1) * 1000 + OFFSET_MS;
    this.timer = setTimeout(() => {
      this.plan();
      for (const [eventId, live] of this.running) this.second(eventId, live, new Date());
    }, next - Date.now());
  }

  /** A second that is still being written when the next comes is waited for; the next one is then left out. */
  private second(eventId: string, live: LiveEvent, now: Date): void {
    if (this.writing.has(eventId)) return;
    this.writing.add(eventId);
    this.alone(eventId, async () => {
      if (live.running) await live.tick(now);
    })
      .catch((error) => this.log.error({ eventId, error }, "a second could not be written"))
      .finally(() => this.writing.delete(eventId));
  }

  private load(eventId: string, now: Date): Promise<LiveEvent> {
    return LiveEvent.load(this.db, this.drivers, (message) => this.hub.publish(eventId, message), eventId, now);
  }

  /** Runs work on an event while nothing else happens to it. */
  async alone<T>(eventId: string, work: () => Promise<T>): Promise<T> {
    const before = this.turns.get(eventId) ?? Promise.resolve();
    const turn = before.catch(() => undefined).then(work);
    this.turns.set(eventId, turn);
    try {
      return await turn;
    } finally {
      if (this.turns.get(eventId) === turn) this.turns.delete(eventId);
    }
  }

  /** Gives an order to an event, live or not; afterwards it is watched for as long as its encoder sends. */
  async order<T>(eventId: string, work: (live: LiveEvent, now: Date) => Promise<T>): Promise<T> {
    return this.alone(eventId, async () => {
      const now = new Date();
      const live = this.running.get(eventId) ?? (await this.load(eventId, now));
      try {
        return await work(live, now);
      } finally {
        if (live.running) this.running.set(eventId, live);
        else this.running.delete(eventId);
      }
    });
  }

  /** Looks at an event without changing it. */
  async look<T>(eventId: string, read: (live: LiveEvent, at: string) => T): Promise<T> {
    const now = new Date();
    return read(this.running.get(eventId) ?? (await this.load(eventId, now)), now.toISOString());
  }
}
