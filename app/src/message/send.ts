/**
 * Sending, step by step; each step may be repeated and the whole happens once. What a try made is kept with the draft
 * before anything leaves.
 */
import { type RecipientRole } from '@under-lock/core/people/role';
import { type Account } from '@under-lock/contract/account';
import { dispatchMessage, getSent, type NewCopy, type NewGrant } from '@under-lock/contract/message';
import { type Office } from '@under-lock/contract/office';
import { type Registered } from '@under-lock/contract/registered';
import { isProblem } from '@under-lock/contract/problem';
import { fromBase64Url } from '@under-lock/core/bytes';
import { outerSubject } from '@under-lock/core/notice/notice';
import { type DeliveryPlan, type PlanLine } from '@under-lock/core/plan/plan';
import { addressKey } from '@under-lock/core/people/address';
import { type FileRules } from '@under-lock/core/locks/file/rules';
import { isRead } from '@under-lock/core/locks/lock';
import { api } from '../api';
import { zone } from '../clock';
import { paperHere } from '../paper';
import { fileWayIn } from '@under-lock/core/outgoing/plan';
import { type Book, rememberPassword } from '../passwords/usePasswords';
import { type Colleague, type Planned } from '../plan/usePlan';
import { type RecipientCertificates } from '../people/certificates';
import { type RecipientKeys } from '../people/keys';
import { type Person, personAt } from '../people/person';
import { type Kept } from '../vault/useVault';
import { isOwnAddress } from '@under-lock/core/people/own-addresses';
import { oneAt } from '@under-lock/core/people/find';
import { callback, door } from '../worker/door';
import { keysDoor } from '../worker/keys/door';
import { type MessageToSeal, type WantedGrant } from '../worker/message';
import { type Attempt, type Draft, type KeptGrant, type Summary } from '@under-lock/core/outgoing/draft';

export type SendStep = { step: 'sealing' } | { step: 'uploading'; done: number } | { step: 'dispatching' };

/** An earlier version of this draft had gone out although its answer never came back. */
export class EarlierVersionSentError extends Error {
  constructor(readonly messageId: string) {
    super('An earlier version of this draft has been sent');
    this.name = 'EarlierVersionSentError';
  }
}

interface Sending {
  draft: Draft;
  draftId: string;
  planned: Planned;
  colleagues: readonly Colleague[];
  registered: readonly Registered[];
  certificates: RecipientCertificates;
  keys: RecipientKeys;
  people: readonly Kept<Person>[];
  passwords: Book;
  fileRules: FileRules;
  office: Office;
  account: Account;
  now: Date;
  keepAttempt(attempt: Attempt): Promise<void>;
  progress(step: SendStep): void;
  /** Aborted, nothing more is begun, every transfer ends, and nothing is handed over. */
  signal: AbortSignal;
}

/** Runs a transfer that ends with the sending: it is called off where it runs. */
async function transferring<T>(
  signal: AbortSignal,
  blobId: string,
  cancel: (blobId: string) => Promise<void>,
  act: () => Promise<T>,
): Promise<T> {
  signal.throwIfAborted();
  const stop = (): void => void cancel(blobId).catch(() => undefined);
  signal.addEventListener('abort', stop);
  try {
    const done = await act();
    signal.throwIfAborted();
    return done;
  } finally {
    signal.removeEventListener('abort', stop);
  }
}

const messageOf = (
  draft: Draft,
  plan: DeliveryPlan,
  account: Account,
  attempt: { mailId: string; date: string },
): MessageToSeal => {
  const people = (role: 'to' | 'cc') =>
    plan.lines
      .filter(({ recipient }) => recipient.role === role)
      .map(({ recipient: { name, address } }) => ({ name, address }));
  return {
    messageId: attempt.mailId,
    from: { name: account.name, address: draft.from ?? account.address },
    to: people('to'),
    cc: people('cc'),
    subject: draft.subject.trim(),
    date: new Date(attempt.date),
    reference: draft.reference.trim(),
    text: draft.text,
    html: draft.html,
    files: draft.files,
    ...(draft.answers === undefined ? {} : { answers: draft.answers }),
  };
};

async function wasSent(messageId: string): Promise<boolean> {
  try {
    await api(getSent, { params: { id: messageId } });
    return true;
  } catch (error) {
    if (isProblem(error, 'not-found')) return false;
    throw error;
  }
}

/** How one planned recipient is to be known. The plan has seen to it that nothing is missing. */
function wantedGrant(
  { recipient, chosen }: PlanLine,
  { colleagues, registered }: Pick<Sending, 'colleagues' | 'registered'>,
): WantedGrant {
  const { address, name, role, language, phone, secondAddress, question, answer } = recipient;
  const check = chosen.check!;
  if (check.kind === 'account') {
    const { id: accountId, key } = colleagues.find((one) => isOwnAddress(one, address))!;
    return {
      address,
      name,
      role,
      reader: { kind: 'account', accountId, suite: key!.suite, publicKey: key!.publicKey as Uint8Array<ArrayBuffer> },
    };
  }
  if (check.kind === 'password') {
    const { id: readerId, key } = oneAt(registered, address)!;
    return {
      address,
      name,
      role,
      reader: {
        kind: 'registered',
        readerId,
        ...(language === undefined ? {} : { language }),
        suite: key.suite,
        publicKey: key.publicKey as Uint8Array<ArrayBuffer>,
      },
    };
  }
  const target = check.kind === 'question' ? undefined : check.kind === 'email' ? secondAddress! : phone!;
  return {
    address,
    name,
    role,
    reader: {
      kind: 'link',
      ...(language === undefined ? {} : { language }),
      check: check.kind,
      ...(target === undefined ? {} : { target }),
      ...(check.question ? { question: { text: question!.trim(), answer: answer! } } : {}),
    },
  };
}

/** A kept grant as it goes to the server. */
export function newGrantOf({
  id,
  address,
  name,
  role,
  carried,
  houseShare,
  wrappedKey,
  readerShare,
  reader,
}: KeptGrant): NewGrant {
  const halves = {
    id,
    address,
    name,
    role,
    ...(carried === undefined ? {} : { carried }),
    houseShare: fromBase64Url(houseShare),
    wrappedKey: fromBase64Url(wrappedKey),
  };
  if (reader.kind !== 'link')
    return {
      ...halves,
      reader: {
        ...reader,
        sealedShare: fromBase64Url(reader.sealedShare),
        sealedSummary: fromBase64Url(reader.sealedSummary),
      },
    };
  const question =
    reader.question === undefined
      ? undefined
      : { sealed: fromBase64Url(reader.question.sealed), answerProof: fromBase64Url(reader.question.answerProof) };
  const channel =
    reader.check === 'question'
      ? { kind: reader.check, question: question! }
      : { kind: reader.check, target: reader.target!, ...(question === undefined ? {} : { question }) };
  return {
    ...halves,
    reader: {
      kind: 'link',
      channel,
      readerShare: fromBase64Url(readerShare),
      ...(reader.language === undefined ? {} : { language: reader.language }),
    },
  };
}

type CopyWanted = Pick<Attempt['copies'][number], 'lock' | 'form' | 'file'> & {
  recipients: { address: string; name: string; role: RecipientRole }[];
};

/** A locked file goes to each by a mail of its own: each has a password of their own. */
function filesWanted({ draft, planned: { plan }, people, passwords, fileRules }: Sending): CopyWanted[] {
  return plan.lines
    .filter(({ chosen }) => chosen.lock === 'file')
    .map(({ chosen, recipient: { address, name, role } }) => {
      const { way, password } = fileWayIn({ draft, people, passwords, fileRules }, address);
      return {
        lock: 'file',
        form: 'mime',
        file: { way, ...(chosen.clear === true ? {} : { password: password!.password }) },
        recipients: [{ address, name, role }],
      };
    });
}

/**
 * One mail for all who get it the same way; one of their own for each who is unseen by the others, since what is
 * encrypted names everybody it is for.
 */
function copiesWanted(sending: Sending): CopyWanted[] {
  const {
    planned: { plan },
    people,
  } = sending;
  const ways: CopyWanted[] = [
    { lock: 'certificate', form: 'mime', recipients: [] },
    { lock: 'openpgp', form: 'mime', recipients: [] },
    { lock: 'openpgp', form: 'attachments', recipients: [] },
  ];
  for (const {
    chosen,
    recipient: { address, name, role },
  } of plan.lines) {
    const form =
      chosen.clear !== true && chosen.lock === 'openpgp'
        ? (personAt(people, address)?.value.mailForm ?? 'mime')
        : 'mime';
    const way = ways.find((one) => one.lock === chosen.lock && one.form === form);
    if (way !== undefined && role === 'bcc' && chosen.clear !== true)
      ways.push({ ...way, recipients: [{ address, name, role }] });
    else way?.recipients.push({ address, name, role });
  }
  return [...ways.filter(({ recipients }) => recipients.length > 0), ...filesWanted(sending)];
}

/**
 * The earlier try when it still says the same, else a new one. A key never seals two contents: the fingerprint sees to
 * it. @throws EarlierVersionSentError
 */
async function attemptFor(sending: Sending): Promise<Attempt> {
  const {
    draft,
    planned: { plan, preset, applied },
    office,
    account,
    now,
  } = sending;
  const { closing, terms } = applied;
  if (!closing.ok) throw new Error('The plan let a message through that has no closing date');
  const recipients = plan.lines
    .filter(({ chosen }) => isRead(chosen.lock))
    .map((line) => ({ ...wantedGrant(line, sending), ...(line.chosen.lock === 'carried' ? { carried: true } : {}) }));
  const copied = copiesWanted(sending);
  const content = await door().message.fingerprint(
    messageOf(draft, plan, account, { mailId: '', date: new Date(0).toISOString() }),
  );
  const fingerprint = `${content}|${JSON.stringify([recipients, ...(copied.length === 0 ? [] : [copied]), preset?.id, terms, ...(terms.clear ? [draft.openReason] : []), draft.terms?.closing, draft.sendAt, draft.from])}`;
  const earlier = draft.attempt;
  if (earlier !== undefined) {
    if (earlier.fingerprint === fingerprint && new Date(earlier.closesAt) > now) return earlier;
    if (await wasSent(earlier.messageId)) throw new EarlierVersionSentError(earlier.messageId);
    await door().message.discard(earlier.contentBlobId);
  }
  const messageId = crypto.randomUUID();
  const key = await door().message.makeKey();
  const attempt: Attempt = {
    messageId,
    key,
    fingerprint,
    contentBlobId: crypto.randomUUID(),
    mailId: `${crypto.randomUUID()}@${office.mailDomain}`,
    date: now.toISOString(),
    closesAt: closing.closesAt.toISOString(),
    grants: await door().message.split({ messageId, subject: draft.subject.trim() }, key, recipients),
    copies: copied.map(({ lock, form, file, recipients: wanted }) => ({
      id: crypto.randomUUID(),
      lock,
      form,
      clear: terms.clear,
      ...(file === undefined ? {} : { file }),
      recipients: wanted.map((one) => ({ id: crypto.randomUUID(), ...one })),
    })),
  };
  await sending.keepAttempt(attempt);
  return attempt;
}

type CopyToSeal = Attempt['copies'][number];

/** Seals one copy in its lock's way and uploads it as `blobId`. */
async function sealCopy(
  { certificates, keys, office, fileRules, planned: { plan, applied } }: Sending,
  { lock, form, clear, file, recipients }: CopyToSeal,
  message: MessageToSeal,
  blobId: string,
  progress: (done: number) => void,
): Promise<void> {
  const [first] = recipients;
  const language =
    plan.lines.find(({ recipient }) => addressKey(recipient.address) === addressKey(first!.address))?.recipient
      .language ?? 'en';
  const neutral = outerSubject(language, office.name, office.look);
  const told = callback(progress);
  switch (lock) {
    case 'file': {
      const { templates, storedTypes } = fileRules;
      const wanted = {
        ...file!,
        password: file!.password,
        recipient: first!,
        language,
        officeName: office.name,
        templates,
        storedTypes,
        zone,
        neutralSubject: neutral,
        rights: applied.terms.rights,
        paper: paperHere(),
      };
      await keysDoor().file.sealAndUpload(message, wanted, blobId, told);
      return;
    }
    case 'openpgp': {
      const known = clear
        ? 'clear'
        : recipients.map(({ address }) => fromBase64Url(keys.get(addressKey(address))!.kept.key));
      await keysDoor().openpgp.sealAndUpload(message, known, form, neutral, blobId, told);
      return;
    }
    case 'certificate': {
      const known = clear
        ? 'clear'
        : recipients.map(({ address }) => {
            const { kept } = certificates.get(addressKey(address))!;
            return {
              certificate: fromBase64Url(kept.certificate),
              ...(kept.capabilities === undefined ? {} : { capabilities: kept.capabilities }),
            };
          });
      await keysDoor().sealing.sealAndUpload(message, known, neutral, blobId, told);
    }
  }
}

/** Sealed anew at each try: what an earlier one uploaded under another number is cleared away with the unsent. */
async function sealCopies(
  sending: Sending,
  copies: readonly CopyToSeal[],
  message: MessageToSeal,
  progressOf: (part: number) => (done: number) => void,
): Promise<NewCopy[]> {
  const { signal } = sending;
  const cancel = (blobId: string): Promise<void> => keysDoor().transfers.cancel(blobId);
  const sealed = copies.map(async (copy, index): Promise<NewCopy> => {
    const blobId = crypto.randomUUID();
    await transferring(signal, blobId, cancel, () => sealCopy(sending, copy, message, blobId, progressOf(index + 1)));
    return { id: copy.id, lock: copy.lock, blobId, recipients: copy.recipients };
  });
  // All of them end before anything is said: what one of them still uploads must not outlive a stop.
  await Promise.allSettled(sealed);
  signal.throwIfAborted();
  return Promise.all(sealed);
}

/** The share that has arrived of several uploads, each told by its place. */
function together(parts: number, progress: Sending['progress']): (part: number) => (done: number) => void {
  const shares = Array.from({ length: parts }, () => 0);
  return (part) => (done) => {
    shares[part] = done;
    progress({ step: 'uploading', done: shares.reduce((sum, one) => sum + one, 0) / parts });
  };
}

/** What opens the locked files, for the message's own page; nothing of what was not to be kept. */
function passwordsKept(
  { draft, people, passwords, fileRules }: Sending,
  { copies }: Attempt,
): Pick<Summary, 'passwords'> {
  const kept = copies.flatMap(({ file, recipients: [recipient] }) => {
    if (file?.password === undefined) return [];
    const { password } = fileWayIn({ draft, people, passwords, fileRules }, recipient!.address);
    const own = draft.recipients.find(({ address }) => address === recipient!.address)?.password;
    return own?.remember === false
      ? []
      : [
          [
            recipient!.id,
            { password: file.password, telling: file.way.telling, told: password?.told === true },
          ] as const,
        ];
  });
  return kept.length === 0 ? {} : { passwords: Object.fromEntries(kept) };
}

/**
 * Passwords made for this message alone and to be kept go into the book now. A failure loses nothing: the message's
 * page has them.
 */
async function rememberPasswords({ draft, passwords, now }: Sending): Promise<void> {
  for (const { address, password } of draft.recipients) {
    if (password?.remember !== true) continue;
    await rememberPassword(
      passwords,
      {
        address,
        direction: 'out',
        password: password.password,
        guesses: password.guesses,
        ...(password.told ? { toldAt: now.toISOString() } : {}),
      },
      now,
    ).catch(() => undefined);
  }
}

/**
 * Seals, uploads and dispatches. Resolves with the message's id and when it leaves. @throws ApiProblem,
 * EarlierVersionSentError, AbortError
 */
export async function sendDraft(sending: Sending): Promise<{ messageId: string; leavesAt: Date }> {
  const {
    draft,
    draftId,
    planned: { plan, preset, applied, leavesAt },
    account,
    progress,
    signal,
  } = sending;
  progress({ step: 'sealing' });
  const attempt = await attemptFor(sending);
  const message = messageOf(draft, plan, account, attempt);
  const progressOf = together(1 + attempt.copies.length, progress);
  await door().message.allow([attempt.contentBlobId]);
  await transferring(
    signal,
    attempt.contentBlobId,
    (id) => door().message.cancel(id),
    () => door().message.sealAndUpload(message, attempt.contentBlobId, attempt.key, callback(progressOf(0))),
  );
  const copies = await sealCopies(sending, attempt.copies, message, progressOf);
  signal.throwIfAborted();
  progress({ step: 'dispatching' });
  const summary: Summary = {
    subject: message.subject,
    mailId: attempt.mailId,
    key: attempt.key,
    files: draft.files.map(({ name, size }) => ({ name, size })),
    links: Object.fromEntries(attempt.grants.map((grant) => [grant.id, grant.readerShare])),
    draftId,
    ...passwordsKept(sending, attempt),
  };
  const { sentAt } = await api(dispatchMessage, {
    params: { id: attempt.messageId },
    body: {
      contentBlobId: attempt.contentBlobId,
      reference: message.reference,
      ...(draft.from === undefined ? {} : { from: draft.from }),
      handling: { ...applied.terms, closesAt: new Date(attempt.closesAt) },
      ...(preset === undefined ? {} : { presetId: preset.id }),
      ...(applied.terms.clear ? { openReason: (draft.openReason ?? '').trim() } : {}),
      ...(leavesAt === undefined ? {} : { leavesAt }),
      ...(draft.inReplyTo === undefined ? {} : { inReplyTo: draft.inReplyTo }),
      summary: await door().vault.sealSent(attempt.messageId, summary),
      grants: attempt.grants.map(newGrantOf),
      ...(copies.length === 0 ? {} : { copies }),
    },
  });
  await rememberPasswords(sending);
  return { messageId: attempt.messageId, leavesAt: sentAt };
}

/** Files that lay with the draft and are not needed once it is sent or dropped. */
export const discardFiles = (draft: Draft): Promise<unknown> =>
  Promise.all(
    draft.files.map(({ blobId }) =>
      door()
        .message.removeFile(blobId)
        .catch(() => undefined),
    ),
  );
