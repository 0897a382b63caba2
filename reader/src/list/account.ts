/** A registered reader's account and list, between the server and the thread: without any screen. */
import { partCount, PART_BYTES } from '@under-lock/contract/blob';
import * as api from '@under-lock/contract/registered';
import { isProblem } from '@under-lock/contract/problem';
import { type Bytes } from '@under-lock/core/bytes';
import { type ReaderDraft } from '@under-lock/core/account/reader-account';
import { type Language } from '@under-lock/core/language';
import { deviceName } from '@under-lock/ui/device-name';
import { type MessageContent } from '@under-lock/core/message/content';
import { toList } from './places';
import { type Visit } from '../address';
import { client, threadOf } from '../visit';
import { type AccountDoor, type Own, type SealedWritten, type WrittenToSeal } from '../threads/account';

export type Session = api.RegisteredSession;

const run = threadOf<AccountDoor>('account');

const ownOf = ({ reader, sealedPrivateKey }: Session): Own => ({
  readerId: reader.id,
  sealedPrivateKey: sealedPrivateKey as Bytes,
});

/** Who is signed in and open in this browser; whoever is signed in and not open has to give the password again. */
export async function lookAround(): Promise<{ officeName: string; colour: string; session: Session | undefined }> {
  const { officeName, colour, session } = await client(api.getReaderSession);
  return {
    officeName,
    colour,
    session: session !== undefined && (await run((door) => door.isOpen(session.reader.id))) ? session : undefined,
  };
}
export const currentSession = async (): Promise<Session | undefined> => (await lookAround()).session;

/** @throws ApiProblem `wrong-password`, `too-many-tries` */
export async function signIn(address: string, password: string): Promise<Session> {
  const hashing = await client(api.startReaderSignIn, { body: { address } });
  const authKey = await run((door) => door.authKey(password, hashing));
  const session = await client(api.signInReader, { body: { address, authKey, device: deviceName() } });
  await run((door) => door.unlock(session.reader.id, session.wrappedSecret as Bytes));
  return session;
}

export async function signOut(): Promise<void> {
  await run((door) => door.lock());
  await client(api.signOutReader).catch((error: unknown) => {
    if (!isProblem(error, 'not-signed-in')) throw error;
  });
}

const askForDigits = ({ id }: Pick<Visit, 'id'>) => client(api.sendMailboxCode, { params: { id } });
/** @throws ApiProblem `wrong-code`, `passcode-expired`, `passcode-paused`, `passcode-stopped`, `conflict` */
async function register({ id }: Pick<Visit, 'id'>, code: string, password: string): Promise<Session> {
  const account = await run((door) => door.create(password));
  return client(api.registerReader, { params: { id }, body: { ...account, code, device: deviceName() } });
}
export const askForReset = (address: string) => client(api.startReset, { body: { address } });
export async function reset(address: string, code: string, password: string): Promise<Session> {
  const account = await run((door) => door.create(password));
  return client(api.finishReset, { body: { ...account, address, code, device: deviceName() } });
}
/** @throws SealError when the current password is wrong */
export async function changePassword(
  { reader, hashing, wrappedSecret }: Session,
  current: string,
  next: string,
): Promise<void> {
  const changed = await run((door) =>
    door.changePassword(reader.id, { hashing, wrappedSecret: wrappedSecret as Bytes }, current, next),
  );
  await client(api.changeReaderPassword, { body: changed });
}
export async function forget({ hashing }: Session, password: string): Promise<void> {
  const currentAuthKey = await run((door) => door.authKey(password, hashing));
  await client(api.forgetReader, { body: { currentAuthKey } });
  await run((door) => door.lock());
}

export const setLanguage = (language: Language): Promise<unknown> =>
  client(api.setReaderLanguage, { body: { language } });
export const listDevices = async () => (await client(api.listReaderDevices)).devices;
export const endDevice = (id: string): Promise<unknown> => client(api.endReaderDevice, { params: { id } });

export interface KeptDraft extends ReaderDraft {
  id: string;
  updatedAt: Date;
}
export async function listDrafts(session: Session): Promise<KeptDraft[]> {
  const { drafts } = await client(api.listReaderDrafts);
  if (drafts.length === 0) return [];
  const opened = await run((door) =>
    door.drafts(
      ownOf(session),
      drafts.map(({ id, sealed }) => ({ id, sealed: sealed as Bytes })),
    ),
  );
  return drafts.flatMap(({ id, updatedAt }, index) => {
    const draft = opened[index];
    return draft === undefined ? [] : [{ ...draft, id, updatedAt }];
  });
}
/** @throws ApiProblem `storage-full` */
export async function keepDraft({ key, reader }: Session, id: string, draft: ReaderDraft): Promise<void> {
  const sealed = await run((door) => door.sealDraft(key, reader.id, id, draft));
  await client(api.putReaderDraft, { params: { id }, body: { sealed } });
}
/** One that was never kept is dropped, too. */
export async function dropDraft(id: string): Promise<void> {
  await client(api.dropReaderDraft, { params: { id } }).catch((error: unknown) => {
    if (!isProblem(error, 'not-found')) throw error;
  });
}

/** All that is theirs, as a ZIP: the account, what was held for them, and what they wrote. @throws ApiProblem */
export async function takeAlong(session: Session, office: string): Promise<Bytes> {
  const held: Held[] = [];
  let after: string | undefined;
  do {
    const page = await heldPage(session, { sort: 'newest', ...(after === undefined ? {} : { after }) });
    held.push(...page.items);
    after = page.next;
  } while (after !== undefined);
  const written: MessageContent[] = [];
  for (const item of await listWritten(session)) written.push(await openWritten(session, item));
  const { address, name } = session.reader;
  return run((door) =>
    door.archive({
      account: { address, name, language: session.language, office },
      held: held.map(({ subject, from, arrivedAt, closesAt, state, reference }) => ({
        subject: subject ?? '',
        from: from.name === '' ? from.address : `${from.name} <${from.address}>`,
        arrivedAt,
        closesAt,
        state,
        reference,
      })),
      written,
      madeAt: new Date(),
    }),
  );
}

export interface Held extends api.HeldItem {
  subject: string | undefined;
}
export interface HeldPage {
  items: Held[];
  next?: string | undefined;
  unread: number;
  senders: Awaited<ReturnType<typeof listPage>>['senders'];
  maxBytes: number;
}

const listPage = (query: { sort: api.HeldSort; sender?: string; after?: string }) => client(api.listHeld, { query });
export async function heldPage(
  session: Session,
  query: { sort: api.HeldSort; sender?: string; after?: string },
): Promise<HeldPage> {
  const page = await listPage(query);
  const sealed = page.items.flatMap(({ grantId, sealed: one }) =>
    one === undefined ? [] : [{ grantId, share: one.share as Bytes, summary: one.summary as Bytes }],
  );
  const subjects = sealed.length === 0 ? [] : await run((door) => door.subjects(ownOf(session), sealed));
  const subjectOf = new Map(sealed.map(({ grantId }, index) => [grantId, subjects[index]]));
  return { ...page, items: page.items.map((item) => ({ ...item, subject: subjectOf.get(item.grantId) })) };
}

/**
 * From the list into a message: its share. Where the sign-in is not enough its own check is asked next. @throws
 * ApiProblem `not-found`, `grant-closed`, `grant-withdrawn`
 */
export async function enter(session: Session, id: string): Promise<Visit> {
  const { sealedShare } = await client(api.enterHeld, { params: { id } });
  return { id, byAccount: true, share: await run((door) => door.share(ownOf(session), sealedShare as Bytes, id)) };
}

/** Puts what was opened by its link into the list. */
async function keep(session: Session, { id, share }: Visit, subject: string): Promise<void> {
  const sealed = await run((door) => door.keep(session.key, share, id, subject));
  await client(api.keepGrant, { params: { id }, body: sealed });
}

export const mark = (id: string, unread: boolean): Promise<unknown> =>
  client(api.markHeld, { params: { id }, body: { unread } });
export const remove = (id: string): Promise<unknown> => client(api.removeHeld, { params: { id } });
export const askAgain = (ids: string[]) => client(api.askToGiveAgain, { body: { ids } });

export interface WrittenItem {
  id: string;
  sentAt: Date;
  to: { name: string; address: string };
  size: number;
  ownKey: Uint8Array;
  opened: boolean;
  subject: string | undefined;
}
export async function listWritten(session: Session): Promise<WrittenItem[]> {
  const { items } = await client(api.listWritten);
  const subjects =
    items.length === 0
      ? []
      : await run((door) =>
          door.writtenSubjects(
            ownOf(session),
            items.map(({ id, ownKey, ownSummary }) => ({
              id,
              ownKey: ownKey as Bytes,
              ownSummary: ownSummary as Bytes,
            })),
          ),
        );
  return items.map((item, index) => ({ ...item, subject: subjects[index] }));
}
export async function openWritten(session: Session, { id, size, ownKey }: WrittenItem): Promise<MessageContent> {
  const parts: Bytes[] = [];
  for (let index = 0; index < partCount(size); index++)
    parts.push((await client(api.getWrittenPart, { params: { id, index } })) as Bytes);
  return run((door) => door.openWritten(ownOf(session), parts, ownKey as Bytes, id));
}

export const sealWritten = (written: WrittenToSeal): Promise<SealedWritten> => run((door) => door.write(written));

/**
 * Uploads what is missing and sends; the same sealed message may be sent again until it has gone, and goes once.
 * @throws ApiProblem
 */
export async function sendWritten(
  to: string,
  { content, ...written }: SealedWritten,
  progress: (done: number) => void,
): Promise<void> {
  const { received } = await client(api.startWrittenBlob, {
    body: { id: written.contentBlobId, size: content.length, to },
  });
  const there = new Set(received);
  const count = partCount(content.length);
  for (let index = 0; index < count; index++) {
    if (!there.has(index))
      await client(api.putWrittenPart, {
        params: { id: written.contentBlobId, index },
        body: content.slice(index * PART_BYTES, (index + 1) * PART_BYTES),
      });
    progress((index + 1) / count);
  }
  await client(api.sendWritten, { body: { ...written, to } });
}

/** What this panel asks for; the sender's view of it lets nothing leave. */
export interface KeepDoor {
  currentSession(): Promise<Session | undefined>;
  askForDigits(): Promise<{ resendAt: Date; registered: boolean }>;
  register(code: string, password: string): Promise<Session>;
  keep(session: Session, subject: string): Promise<void>;
  toList(): void;
}
export const keepDoor = (visit: Visit): KeepDoor => ({
  currentSession,
  askForDigits: () => askForDigits(visit),
  register: (code, password) => register(visit, code, password),
  keep: (session, subject) => keep(session, visit, subject),
  toList,
});
