/** One visit to the reading room: what the page asks of the server and its threads, without any screen. */
import { defined } from '@under-lock/core/defined';
import { partCount } from '@under-lock/contract/blob';
import { createClient } from '@under-lock/contract/client';
import { ApiProblem } from '@under-lock/contract/problem';
import * as api from '@under-lock/contract/room';
import { type Handling } from '@under-lock/core/handling/handling';
import { type MessageContent } from '@under-lock/core/message/content';
import { answerProof, openQuestion } from '@under-lock/core/identity/answer';
import { toldProof } from '@under-lock/core/identity/told';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { type Bytes } from '@under-lock/core/bytes';
import { type Correspondent } from '@under-lock/core/people/address';
import { threadScript } from '@under-lock/ui/thread-script';
import { wrap, type Remote } from 'comlink';
import { type Visit } from './address';
import { earlyFetch } from './early/over';
import { type ConfirmDoor } from './ConfirmPanel';
import { type ReaderDoor } from './threads/reading';

export interface Opened {
  content: MessageContent;
  handling: Handling;
  reader: { name: string; address: string };
  /** The sender asks to have the reading confirmed; `at` when it was. */
  confirm?: { at?: Date | undefined } | undefined;
  /** The reader may say how they want what comes next. */
  choose?: boolean | undefined;
}

export class DamagedError extends Error {}

/** Those that fetch parts of themselves when they are wanted. */
const MODULES: ReadonlySet<string> = new Set(['choose', 'account']);

/** A thread for one task. Its script may fail to load on a bad line: then the task fails, instead of waiting for ever. */
export function startThread<Door>(name: 'reading' | 'reply' | 'account' | 'choose'): {
  door: Remote<Door>;
  failed: Promise<never>;
  end: () => void;
} {
  const thread = new Worker(threadScript(name), { type: MODULES.has(name) ? 'module' : 'classic' });
  const failed = new Promise<never>((_, reject) => {
    thread.onerror = () =>
      reject(
        new ApiProblem({
          type: 'about:blank',
          title: 'The page could not load what opens the message',
          status: 0,
          code: 'unreachable',
        }),
      );
  });
  return { door: wrap<Door>(thread), failed, end: () => thread.terminate() };
}

type ThreadName = Parameters<typeof startThread>[0];

/** A thread that is started at the first task and stays; when its script can't be had, the next task tries anew. */
export function threadOf<Door>(name: ThreadName): <T>(task: (door: Remote<Door>) => Promise<T>) => Promise<T> {
  let thread: ReturnType<typeof startThread<Door>> | undefined;
  return (task) => {
    if (thread === undefined) {
      thread = startThread<Door>(name);
      thread.failed.catch(() => {
        thread = undefined;
      });
    }
    return Promise.race([thread.failed, task(thread.door)]);
  };
}

export const client = createClient(window.location.origin, earlyFetch);

export const look = ({ id }: Pick<Visit, 'id'>) => client(api.lookAtRoom, { params: { id } });
const askPasscode = async ({ id, share }: Visit) =>
  client(api.sendPasscode, { params: { id }, body: { proof: await shareProof(share) } });
/** What is typed to be known: a passcode or a one-time password, an answer, or two of them. */
export interface Given {
  passcode?: string;
  answer?: string;
  told?: string;
}
/** All that is asked at once. */
async function identify({ id, share }: Visit, { passcode, answer, told }: Given): Promise<void> {
  const body = {
    proof: await shareProof(share),
    ...defined({ passcode }),
    ...(answer === undefined ? {} : { answerProof: await answerProof(answer, share) }),
    ...(told === undefined ? {} : { toldProof: await toldProof(told, share) }),
  };
  await client(api.enterPasscode, { params: { id }, body });
}
/** The question as the sender wrote it. @throws SealError */
const readQuestion = ({ id, share }: Visit, sealed: Uint8Array): Promise<string> => openQuestion(sealed, share, id);
const askOtherWay = async ({ id, share }: Visit, wish: string): Promise<void> =>
  void (await client(api.askOtherWay, { params: { id }, body: { proof: await shareProof(share), wish } }));
export const askLeave = ({ id }: Visit, what: 'saved' | 'printed'): Promise<unknown> =>
  client(api.recordRoomUse, { params: { id }, body: { what } });
const sayNotForMe = async ({ id, share }: Visit): Promise<void> =>
  void (await client(api.sayNotForMe, { params: { id }, body: { proof: await shareProof(share) } }));
export const leave = ({ id }: Visit): Promise<unknown> => client(api.leaveRoom, { params: { id } });

export const confirmDoor = ({ id }: Visit): ConfirmDoor => ({
  confirm: () => client(api.confirmRoom, { params: { id } }),
});

/** What the page before reading asks for; the sender's view of it gives itself the answers. */
export interface AskDoor {
  askPasscode(): Promise<{ resendAt: Date }>;
  identify(given: Given): Promise<void>;
  /** @throws SealError when this link does not open it */
  readQuestion(sealed: Uint8Array): Promise<string>;
  askOtherWay(wish: string): Promise<void>;
  sayNotForMe(): Promise<void>;
}
export const askDoor = (visit: Visit): AskDoor => ({
  askPasscode: () => askPasscode(visit),
  identify: (given) => identify(visit, given),
  readQuestion: (sealed) => readQuestion(visit, sealed),
  askOtherWay: (wish) => askOtherWay(visit, wish),
  sayNotForMe: () => sayNotForMe(visit),
});

/** Fetches and opens. `progress` is told the share fetched, 0 to 1. @throws ApiProblem, DamagedError */
export async function openMessage(
  { id, share, sealed }: Visit,
  sender: Correspondent,
  progress: (done: number) => void,
): Promise<Opened> {
  const released = await client(api.openRoom, { params: { id } });
  const parts: Bytes[] = released.carried && sealed !== undefined ? [sealed] : [];
  const count = released.carried ? 0 : partCount(released.size);
  for (let index = 0; index < count; index++) {
    parts.push(await client(api.getRoomPart, { params: { id, index } }));
    progress((index + 1) / count);
  }
  const { door, failed, end } = startThread<ReaderDoor>('reading');
  try {
    const house = { houseShare: released.houseShare, wrappedKey: released.wrappedKey };
    const content = await Promise.race([
      failed,
      door.open(parts, share, house, { grantId: id, messageId: released.messageId }),
    ]);
    // Whom it comes from is what the house knows, not what the message says of itself.
    return {
      content: { ...content, from: sender },
      handling: released.handling,
      reader: released.reader,
      confirm: released.confirm,
      choose: released.choose,
    };
  } catch (error) {
    throw error instanceof ApiProblem ? error : new DamagedError('The content does not open');
  } finally {
    end();
  }
}
