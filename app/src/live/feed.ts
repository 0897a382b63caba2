/**
 * What changes on the server, told to every tab of this browser by one stream. One tab holds a lock of the browser and
 * with it the stream, and passes on what it says; when that tab goes, the lock and so the stream are the next one's.
 */
import { type ChangeKind, liveEvents, SILENCE_MS } from '@under-lock/contract/live';
import { z } from 'zod';

export interface LineEvents {
  here(): void;
  changed(data: string): void;
  /** For the moment, or until it is opened anew: `over` when it will not come back by itself. */
  lost(over: boolean): void;
}

/** What the feed needs of a browser. */
export interface Ports {
  open(events: LineEvents): { close(): void };
  /** To and from the other tabs of this account. */
  channel(name: string): { post(said: unknown): void; onSaid(listener: (said: unknown) => void): void; close(): void };
  /** Calls `held` as soon as this tab alone holds `name`, and gives it back when `until` says so. */
  hold(name: string, until: AbortSignal, held: () => void): void;
}

export interface Listener {
  /** Undefined: nobody knows, everything may have. */
  changed(kinds: readonly ChangeKind[] | undefined): void;
  live(isLive: boolean): void;
}

const REOPEN_MS = 5_000;

const saidSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('who') }),
  z.object({ kind: z.literal('here') }),
  z.object({ kind: z.literal('lost') }),
  z.object({ kind: z.literal('changed'), kinds: liveEvents.changed.shape.kinds }),
]);
type Said = z.infer<typeof saidSchema>;

const kindsIn = (data: string): ChangeKind[] | undefined => {
  try {
    const parsed = liveEvents.changed.safeParse(JSON.parse(data));
    return parsed.success ? parsed.data.kinds : undefined;
  } catch {
    return undefined;
  }
};

export class Feed {
  private readonly channel: ReturnType<Ports['channel']>;
  private readonly stopped = new AbortController();
  private isLive = false;
  private silence: ReturnType<typeof setTimeout> | undefined;
  private reopening: ReturnType<typeof setTimeout> | undefined;
  private line: { close(): void } | undefined;

  constructor(
    accountId: string,
    private readonly listener: Listener,
    private readonly ports: Ports,
  ) {
    const name = `under-lock-live/${accountId}`;
    this.channel = ports.channel(name);
    this.channel.onSaid((said) => {
      const parsed = saidSchema.safeParse(said);
      if (parsed.success && !this.stopped.signal.aborted) this.hear(parsed.data);
    });
    this.post({ kind: 'who' });
    ports.hold(name, this.stopped.signal, () => this.openLine());
  }

  stop(): void {
    this.stopped.abort();
    clearTimeout(this.silence);
    clearTimeout(this.reopening);
    this.line?.close();
    this.channel.close();
  }

  private post(said: Said): void {
    this.channel.post(said);
  }

  private hear(said: Said): void {
    if (said.kind === 'who') {
      if (this.line !== undefined && this.isLive) this.post({ kind: 'here' });
    } else if (said.kind === 'lost') this.lost();
    else {
      this.here();
      if (said.kind === 'changed') this.listener.changed(said.kinds);
    }
  }

  /** To this tab and all others. */
  private pass(said: Said): void {
    this.post(said);
    this.hear(said);
  }

  private lost(): void {
    clearTimeout(this.silence);
    if (!this.isLive) return;
    this.isLive = false;
    this.listener.live(false);
  }

  private here(): void {
    clearTimeout(this.silence);
    this.silence = setTimeout(() => this.silent(), SILENCE_MS);
    if (this.isLive) return;
    this.isLive = true;
    this.listener.live(true);
    // What was missed while nothing was heard.
    this.listener.changed(undefined);
  }

  /** Nothing was heard for too long: something between keeps it back. */
  private silent(): void {
    this.lost();
    if (this.line !== undefined) this.reopen(0);
  }

  private openLine(): void {
    this.line = this.ports.open({
      here: () => this.pass({ kind: 'here' }),
      changed: (data) => {
        const kinds = kindsIn(data);
        if (kinds !== undefined) this.pass({ kind: 'changed', kinds });
      },
      lost: (over) => {
        this.pass({ kind: 'lost' });
        if (over) this.reopen(REOPEN_MS);
      },
    });
  }

  private reopen(afterMs: number): void {
    this.line?.close();
    clearTimeout(this.reopening);
    this.reopening = setTimeout(() => this.openLine(), afterMs);
  }
}
