/** The open streams of one process: who listens, and telling them. */
import { type ChangeKind, SILENCE_MS } from '@under-lock/contract/live';
import { type RouterContext } from '@koa/router';
import { type ServerResponse } from 'node:http';
import { type SignedIn } from '../account/session';
import { type Context } from '../context';
import { busy } from '../problem';
import { SessionRow } from '../data/models';
import { type Changes, ChangeReader, OF_ALL } from './changes';

const READ_EVERY_MS = 1000;
const BEAT_EVERY_MS = SILENCE_MS / 2;
/** The session behind it is looked at anew by asking again. */
const LIFE_MS = 15 * 60_000;
/** How long a browser waits before it asks again. */
const RETRY_MS = 1500;
const MOST = 3000;
/** One a browser; the rest of them are somebody's own doing. */
const MOST_OF_ONE = 30;
/** Whoever does not read what is said to them has gone. */
const MOST_UNREAD_BYTES = 64 * 1024;

const HEADERS = {
  'Content-Type': 'text/event-stream; charset=utf-8',
  // What stands between must not gather what is to be passed on.
  'Cache-Control': 'no-store, no-transform',
  'X-Accel-Buffering': 'no',
};

interface Stream {
  sessionId: string;
  response: ServerResponse;
  until: number;
}

const said = (event: string, data: object): string => `event: ${event}\ndata: ${JSON.stringify(data)}\n\n`;
const HERE = said('here', {});

function tell({ response }: Stream, text: string): void {
  if (response.writableLength > MOST_UNREAD_BYTES) response.destroy();
  else if (!response.writableEnded) response.write(text);
}

/** What belongs to a session that is over ends. */
async function endSignedOut(streams: Stream[]): Promise<void> {
  const going = await SessionRow.findAll({
    attributes: ['id'],
    where: { id: streams.map(({ sessionId }) => sessionId) },
  });
  const alive = new Set(going.map(({ id }) => id));
  for (const { sessionId, response } of streams) if (!alive.has(sessionId)) response.end();
}

export class Streams {
  private readonly byAccount = new Map<string, Set<Stream>>();
  private size = 0;
  /** On their way in. */
  private opening = 0;
  private reader: Promise<ChangeReader> | undefined;
  private reading: NodeJS.Timeout | undefined;
  private beating: NodeJS.Timeout | undefined;

  constructor(private readonly context: Context) {}

  /** @throws Problem `busy` */
  async open(http: RouterContext, { account, session }: SignedIn): Promise<void> {
    this.opening += 1;
    try {
      await this.begin();
      const streams = this.byAccount.get(account.id) ?? new Set<Stream>();
      if (this.size >= MOST || streams.size >= MOST_OF_ONE) throw busy();
      if (http.res.destroyed) return;
      const stream: Stream = { sessionId: session.id, response: http.res, until: Date.now() + LIFE_MS };
      // Koa has nothing more to say here; the headers it was given stay.
      http.respond = false;
      http.res.writeHead(200, HEADERS);
      http.res.write(`retry: ${RETRY_MS}\n\n${HERE}`);
      this.byAccount.set(account.id, streams.add(stream));
      this.size += 1;
      http.res.once('close', () => this.forget(account.id, stream));
    } finally {
      this.opening -= 1;
      this.restUnlessHeard();
    }
  }

  close(): void {
    for (const { response } of this.all()) response.end();
    this.rest();
  }

  private all(): Stream[] {
    return [...this.byAccount.values()].flatMap((streams) => [...streams]);
  }

  /** Until it is known from where on is told. */
  private async begin(): Promise<void> {
    if (this.reader === undefined) {
      this.reader = ChangeReader.start(this.context);
      this.reading = setTimeout(() => void this.read(), READ_EVERY_MS);
      this.beating = setInterval(() => this.beat(), BEAT_EVERY_MS);
    }
    const { reader } = this;
    try {
      await reader;
    } catch (error) {
      // Whoever comes next tries anew.
      if (this.reader === reader) this.rest();
      throw error;
    }
  }

  /** Nobody listens, and nobody is about to: nothing is read. */
  private restUnlessHeard(): void {
    if (this.size === 0 && this.opening === 0) this.rest();
  }

  private rest(): void {
    clearTimeout(this.reading);
    clearInterval(this.beating);
    this.reading = this.beating = this.reader = undefined;
  }

  private forget(accountId: string, stream: Stream): void {
    const streams = this.byAccount.get(accountId);
    if (streams?.delete(stream) !== true) return;
    this.size -= 1;
    if (streams.size === 0) this.byAccount.delete(accountId);
    this.restUnlessHeard();
  }

  private async read(): Promise<void> {
    const { reader } = this;
    if (reader === undefined) return;
    try {
      await this.tellChanges(await (await reader).next());
    } catch (error) {
      this.context.log.error('live', error);
    }
    if (this.reader === reader) this.reading = setTimeout(() => void this.read(), READ_EVERY_MS);
  }

  private async tellChanges(changes: Changes): Promise<void> {
    const ofAll = changes.get(OF_ALL) ?? new Set<ChangeKind>();
    const perhapsSignedOut: Stream[] = [];
    for (const [accountId, streams] of this.byAccount) {
      const kinds = new Set([...(changes.get(accountId) ?? []), ...ofAll]);
      if (kinds.size === 0) continue;
      for (const stream of streams) tell(stream, said('changed', { kinds: [...kinds] }));
      if (kinds.has('account')) perhapsSignedOut.push(...streams);
    }
    // After everybody has been told: should it fail, nobody misses anything.
    if (perhapsSignedOut.length > 0) await endSignedOut(perhapsSignedOut);
  }

  private beat(): void {
    const now = Date.now();
    for (const stream of this.all()) {
      if (now > stream.until) stream.response.end();
      else tell(stream, HERE);
    }
  }
}
