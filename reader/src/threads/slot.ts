/**
 * A mail slot's work away from its page: solves the puzzles while somebody writes, seals what they leave, brings it
 * there part by part. Loaded once they begin to write.
 */
import { PART_BYTES, partCount } from '@under-lock/contract/blob';
import { createClient } from '@under-lock/contract/client';
import { overHiccups } from '@under-lock/contract/over-hiccups';
import { ApiProblem, isProblem, type ProblemCode } from '@under-lock/contract/problem';
import * as slotApi from '@under-lock/contract/slot';
import { type Bytes, randomBytes, toBase64Url } from '@under-lock/core/bytes';
import { defined } from '@under-lock/core/defined';
import { type Correspondent } from '@under-lock/core/people/address';
import { type ForTheAnswer, sealFor, sealLeft, type SealedLeft } from '@under-lock/core/slot/left';
import { solve } from '@under-lock/core/slot/work';
import { expose } from 'comlink';

const client = createClient(self.location.origin);
const TICKET_BYTES = 32;

export interface Letter {
  from: Correspondent;
  to: Correspondent;
  subject: string;
  text: string;
  files: File[];
  answer: ForTheAnswer;
  language: string;
}

/** A failure as it can pass between thread and page. */
export type Outcome<T> =
  | ({ ok: true } & T)
  | { ok: false; code: ProblemCode | 'stopped'; until?: string; triesLeft?: number }
  | { ok: false; code: 'unreadable-file'; file: string };

class UnreadableFileError extends Error {
  constructor(readonly file: string) {
    super(`${file} can’t be read`);
  }
}
class StoppedError extends Error {}

async function outcomeOf<T extends object>(act: () => Promise<T>): Promise<Outcome<T>> {
  try {
    return { ok: true, ...(await act()) };
  } catch (error) {
    if (error instanceof StoppedError) return { ok: false, code: 'stopped' };
    if (error instanceof UnreadableFileError) return { ok: false, code: 'unreadable-file', file: error.file };
    if (!(error instanceof ApiProblem)) return { ok: false, code: 'server-error' };
    const { code, until, triesLeft } = error.details;
    return { ok: false, code, ...defined({ until, triesLeft }) };
  }
}

type Done = { challenge: Bytes; solution: Bytes };
let working: { token: string; done: Promise<Done> } | undefined;

/** New work for this slot, begun ahead of when it is wanted. */
function workFor(token: string): Promise<Done> {
  if (working?.token === token) return working.done;
  const done = client(slotApi.lookAtSlot, { params: { token } }).then(({ work: { challenge, ...puzzles } }) => ({
    challenge: challenge as Bytes,
    solution: solve({ challenge: challenge as Bytes, ...puzzles }),
  }));
  done.catch(() => (working = undefined));
  working = { token, done };
  return done;
}

/** With work that was not used yet; once more when what was done ahead has become too old. */
async function withWork<T>(token: string, ask: (work: Done) => Promise<T>): Promise<T> {
  for (let turn = 0; ; turn++) {
    const done = await workFor(token);
    working = undefined;
    try {
      return await ask(done);
    } catch (error) {
      if (!isProblem(error, 'conflict') || turn > 0) throw error;
    }
  }
}

/** What was sealed of a letter, and the ticket under which it is brought there; the same again for the same letter. */
interface Sealed {
  /** Says which letter it is. */
  of: string;
  ticket: string;
  sealed: SealedLeft;
  begun: boolean;
}
let kept: Sealed | undefined;
let stopping = false;

const goOn = (): void => {
  if (stopping) throw new StoppedError();
};

const spelled = ({ files, ...letter }: Letter): string =>
  JSON.stringify([letter, files.map(({ name, size, lastModified }) => [name, size, lastModified])]);

async function sealedOf(letter: Letter): Promise<Sealed> {
  const of = spelled(letter);
  if (kept?.of === of) return kept;
  const { from, to, subject, text } = letter;
  const files = [];
  for (const file of letter.files) {
    const bytes = await file.arrayBuffer().catch(() => {
      throw new UnreadableFileError(file.name);
    });
    files.push({ name: file.name, type: file.type, bytes: new Uint8Array(bytes) });
    goOn();
  }
  const sealed = await sealLeft({ from, to, subject, text, files, date: new Date() });
  kept = { of, ticket: toBase64Url(randomBytes(TICKET_BYTES)), sealed, begun: false };
  return kept;
}

const putPart = (ticket: string, index: number, body: Bytes): Promise<unknown> =>
  overHiccups(async () => {
    goOn();
    return client(slotApi.putLeftPart, { params: { ticket, index }, body });
  });

async function bring(
  { ticket, sealed: { content } }: Sealed,
  progress: (done: number, of: number) => void,
): Promise<void> {
  const { received, leftAt } = await client(slotApi.getLeaving, { params: { ticket } });
  if (leftAt !== undefined) return;
  const there = new Set(received);
  for (let index = 0; index < partCount(content.length); index++) {
    const end = Math.min(content.length, (index + 1) * PART_BYTES);
    if (!there.has(index)) await putPart(ticket, index, content.slice(index * PART_BYTES, end));
    progress(end, content.length);
  }
}

const door = {
  /** Ahead of when it is wanted; what fails here is said then. */
  async prepare(token: string): Promise<void> {
    await workFor(token).catch(() => undefined);
  },
  sendCode: (token: string, address: string, language: string): Promise<Outcome<{ attempt: string }>> =>
    outcomeOf(() =>
      withWork(token, (work) => client(slotApi.sendSlotCode, { params: { token }, body: { address, language, work } })),
    ),
  /** Whether this very letter is on its way already: then no digits are asked for again. */
  isBegun: async (letter: Letter): Promise<boolean> => kept?.of === spelled(letter) && kept.begun,
  /** Seals and leaves it; after a cut or a stop it goes on where it was. */
  leave: (
    token: string,
    letter: Letter,
    code: { attempt: string; digits: string } | undefined,
    progress: (done: number, of: number) => void,
  ): Promise<Outcome<{ number: string }>> =>
    outcomeOf(async () => {
      stopping = false;
      const mine = await sealedOf(letter);
      const { ticket, sealed } = mine;
      const body = {
        ticket,
        address: letter.from.address,
        language: letter.language,
        size: sealed.content.length,
      };
      const begin = (proof: object) => client(slotApi.beginLeaving, { params: { token }, body: { ...body, ...proof } });
      const { number, behind } =
        code !== undefined || mine.begun
          ? await begin(defined({ code }))
          : await withWork(token, (work) => begin({ work }));
      mine.begun = true;
      await bring(mine, progress);
      goOn();
      const left = await sealFor(
        sealed,
        letter.answer,
        behind.map(({ id, suite, publicKey }) => ({ id, suite, publicKey })),
      );
      await client(slotApi.leaveInSlot, { params: { ticket }, body: { left } });
      kept = undefined;
      return { number };
    }),
  async stop(): Promise<void> {
    stopping = true;
  },
};
export type SlotDoor = typeof door;

expose(door);
