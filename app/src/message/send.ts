/** Sending, step by step; each step may be repeated and the whole happens once. What a try made is kept with the draft before anything leaves. */
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
import { fileWayIn } from '../passwords/for-recipient';
import { type Book, rememberPassword } from '../passwords/usePasswords';
import { type Colleague, type Planned } from '../plan/usePlan';
import { type RecipientCertificates } from '../people/certificates';
import { type RecipientKeys } from '../people/keys';
import { type Person, personAt } from '../people/person';
import { type Kept } from '../vault/useVault';
import { isOwnAddress } from '../session/own-addresses';
import { registeredAt } from '../people/useRegistered';
import { callback, door } from '../worker/door';
import { keysDoor } from '../worker/keys/door';
import { type MessageToSeal, type WantedGrant } from '../worker/message';
import { type Attempt, type Draft, type KeptGrant, type Summary } from './draft';

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
}

const messageOf = (draft: Draft, plan: DeliveryPlan, account: Account, attempt: { mailId: string; date: string }): MessageToSeal => {
  const people = (role: 'to' | 'cc') => plan.lines.filter(({ recipient }) => recipient.role === role).map(({ recipient: { name, address } }) => ({ name, address }));
  return {
    messageId: attempt.mailId, from: { name: account.name, address: draft.from ?? account.address }, to: people('to'), cc: people('cc'), subject: draft.subject.trim(), date: new Date(attempt.date),
    reference: draft.reference.trim(), text: draft.text, html: draft.html, files: draft.files, ...(draft.answers === undefined ? {} : { answers: draft.answers }),
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
function wantedGrant({ recipient, chosen }: PlanLine, { colleagues, registered }: Pick<Sending, 'colleagues' | 'registered'>): WantedGrant {
  const { address, name, role, language, phone, secondAddress, question, answer } = recipient;
  const check = chosen.check!;
  if (check.kind === 'account') {
    const { id: accountId, key } = colleagues.find((one) => isOwnAddress(one, address))!;
    return { address, name, role, reader: { kind: 'account', accountId, suite: key!.suite, publicKey: key!.publicKey as Uint8Array<ArrayBuffer> } };
  }
  if (check.kind === 'password') {
    const { id: readerId, key } = registeredAt(registered, address)!;
    return { address, name, role, reader: { kind: 'registered', readerId, ...(language === undefined ? {} : { language }), suite: key.suite, publicKey: key.publicKey as Uint8Array<ArrayBuffer> } };
  }
  const target = check.kind === 'question' ? undefined : check.kind === 'email' ? secondAddress! : phone!;
  return { address, name, role, reader: { kind: 'link', ...(language === undefined ? {} : { language }), check: check.kind, ...(target === undefined ? {} : { target }), ...(check.question ? { question: { text: question!.trim(), answer: answer! } } : {}) } };
}

/** A kept grant as it goes to the server. */
export function newGrantOf({ id, address, name, role, carried, houseShare, wrappedKey, readerShare, reader }: KeptGrant): NewGrant {
  const halves = { id, address, name, role, ...(carried === undefined ? {} : { carried }), houseShare: fromBase64Url(houseShare), wrappedKey: fromBase64Url(wrappedKey) };
  if (reader.kind !== 'link') return { ...halves, reader: { ...reader, sealedShare: fromBase64Url(reader.sealedShare), sealedSummary: fromBase64Url(reader.sealedSummary) } };
  const question = reader.question === undefined ? undefined : { sealed: fromBase64Url(reader.question.sealed), answerProof: fromBase64Url(reader.question.answerProof) };
  const channel = reader.check === 'question' ? { kind: reader.check, question: question! } : { kind: reader.check, target: reader.target!, ...(question === undefined ? {} : { question }) };
  return { ...halves, reader: { kind: 'link', channel, readerShare: fromBase64Url(readerShare), ...(reader.language === undefined ? {} : { language: reader.language }) } };
}

type CopyWanted = Pick<Attempt['copies'][number], 'lock' | 'form' | 'file'> & { recipients: { address: string; name: string; role: 'to' | 'cc' }[] };

/** A locked file goes to each by a mail of its own: each has a password of their own. */
function filesWanted({ draft, planned: { plan }, people, passwords, fileRules }: Sending): CopyWanted[] {
  return plan.lines.filter(({ chosen }) => chosen.lock === 'file').map(({ chosen, recipient: { address, name, role } }) => {
    const { way, password } = fileWayIn({ draft, people, passwords, fileRules }, address);
    return { lock: 'file', form: 'mime', file: { way, ...(chosen.clear === true ? {} : { password: password!.password }) }, recipients: [{ address, name, role }] };
  });
}

/** One mail for all who get it the same way. */
function copiesWanted(sending: Sending): CopyWanted[] {
  const { planned: { plan }, people } = sending;
  const ways: CopyWanted[] = [{ lock: 'certificate', form: 'mime', recipients: [] }, { lock: 'openpgp', form: 'mime', recipients: [] }, { lock: 'openpgp', form: 'attachments', recipients: [] }];
  for (const { chosen, recipient: { address, name, role } } of plan.lines) {
    const form = chosen.clear !== true && chosen.lock === 'openpgp' ? (personAt(people, address)?.value.mailForm ?? 'mime') : 'mime';
    ways.find((way) => way.lock === chosen.lock && way.form === form)?.recipients.push({ address, name, role });
  }
  return [...ways.filter(({ recipients }) => recipients.length > 0), ...filesWanted(sending)];
}

/** The earlier try when it still says the same, else a new one. A key never seals two contents: the fingerprint sees to it. @throws EarlierVersionSentError */
async function attemptFor(sending: Sending): Promise<Attempt> {
  const { draft, planned: { plan, preset, applied }, office, account, now } = sending;
  const { closing, terms } = applied;
  if (!closing.ok) throw new Error('The plan let a message through that has no closing date');
  const recipients = plan.lines.filter(({ chosen }) => isRead(chosen.lock)).map((line) => ({ ...wantedGrant(line, sending), ...(line.chosen.lock === 'carried' ? { carried: true } : {}) }));
  const copied = copiesWanted(sending);
  const content = await door().message.fingerprint(messageOf(draft, plan, account, { mailId: '', date: new Date(0).toISOString() }));
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
    messageId, key, fingerprint, contentBlobId: crypto.randomUUID(), mailId: `${crypto.randomUUID()}@${office.mailDomain}`, date: now.toISOString(), closesAt: closing.closesAt.toISOString(),
    grants: await door().message.split({ messageId, subject: draft.subject.trim() }, key, recipients),
    copies: copied.map(({ lock, form, file, recipients: wanted }) => ({ id: crypto.randomUUID(), lock, form, clear: terms.clear, ...(file === undefined ? {} : { file }), recipients: wanted.map((one) => ({ id: crypto.randomUUID(), ...one })) })),
  };
  await sending.keepAttempt(attempt);
  return attempt;
}

/** Sealed anew at each try: what an earlier one uploaded under another number is cleared away with the unsent. */
async function sealCopies({ certificates, keys, office, fileRules, planned: { plan, applied }, progress }: Sending, { copies }: Attempt, message: MessageToSeal): Promise<NewCopy[]> {
  return Promise.all(copies.map(async ({ id, lock, form, clear, file, recipients }) => {
    const blobId = crypto.randomUUID();
    const first = plan.lines.find(({ recipient }) => addressKey(recipient.address) === addressKey(recipients[0]!.address));
    const neutral = outerSubject(first?.recipient.language ?? 'en', office.name, office.look);
    const told = callback((done: number) => progress({ step: 'uploading', done }));
    if (lock === 'file') {
      const [recipient] = recipients;
      await keysDoor().file.sealAndUpload(message, { ...file!, password: file!.password, recipient: recipient!, language: first?.recipient.language ?? 'en', officeName: office.name, templates: fileRules.templates, storedTypes: fileRules.storedTypes, zone, neutralSubject: neutral, rights: applied.terms.rights, paper: paperHere() }, blobId, told);
    } else if (lock === 'openpgp') {
      await keysDoor().openpgp.sealAndUpload(message, clear ? 'clear' : recipients.map(({ address }) => fromBase64Url(keys.get(addressKey(address))!.kept.key)), form, neutral, blobId, told);
    } else {
      const known = clear ? 'clear' : recipients.map(({ address }) => {
        const { kept } = certificates.get(addressKey(address))!;
        return { certificate: fromBase64Url(kept.certificate), ...(kept.capabilities === undefined ? {} : { capabilities: kept.capabilities }) };
      });
      await keysDoor().sealing.sealAndUpload(message, known, neutral, blobId, told);
    }
    return { id, lock, blobId, recipients };
  }));
}

/** What opens the locked files, for the message's own page; nothing of what was not to be kept. */
function passwordsKept({ draft, people, passwords, fileRules }: Sending, { copies }: Attempt): Pick<Summary, 'passwords'> {
  const kept = copies.flatMap(({ file, recipients: [recipient] }) => {
    if (file?.password === undefined) return [];
    const { password } = fileWayIn({ draft, people, passwords, fileRules }, recipient!.address);
    const own = draft.recipients.find(({ address }) => address === recipient!.address)?.password;
    return own?.remember === false ? [] : [[recipient!.id, { password: file.password, telling: file.way.telling, told: password?.told === true }] as const];
  });
  return kept.length === 0 ? {} : { passwords: Object.fromEntries(kept) };
}

/** Passwords made for this message alone and to be kept go into the book now. A failure loses nothing: the message's page has them. */
async function rememberPasswords({ draft, passwords, now }: Sending): Promise<void> {
  for (const { address, password } of draft.recipients) {
    if (password?.remember !== true) continue;
    await rememberPassword(passwords, { address, direction: 'out', password: password.password, guesses: password.guesses, ...(password.told ? { toldAt: now.toISOString() } : {}) }, now).catch(() => undefined);
  }
}

/** Seals, uploads and dispatches. Resolves with the message's id and when it leaves. @throws ApiProblem, EarlierVersionSentError, AbortError */
export async function sendDraft(sending: Sending): Promise<{ messageId: string; leavesAt: Date }> {
  const { draft, draftId, planned: { plan, preset, applied, leavesAt }, account, progress } = sending;
  progress({ step: 'sealing' });
  const attempt = await attemptFor(sending);
  const message = messageOf(draft, plan, account, attempt);
  await door().message.sealAndUpload(message, attempt.contentBlobId, attempt.key, callback((done: number) => progress({ step: 'uploading', done })));
  const copies = await sealCopies(sending, attempt, message);
  progress({ step: 'dispatching' });
  const summary: Summary = {
    subject: message.subject, mailId: attempt.mailId, key: attempt.key, files: draft.files.map(({ name, size }) => ({ name, size })),
    links: Object.fromEntries(attempt.grants.map((grant) => [grant.id, grant.readerShare])), draftId, ...passwordsKept(sending, attempt),
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
      summary: await door().vault.seal('sent', attempt.messageId, summary),
      grants: attempt.grants.map(newGrantOf),
      ...(copies.length === 0 ? {} : { copies }),
    },
  });
  await rememberPasswords(sending);
  return { messageId: attempt.messageId, leavesAt: sentAt };
}

/** Ends an upload; what has arrived stays for the next try. */
export const cancelSending = (attempt: Attempt): Promise<void> => door().message.cancel(attempt.contentBlobId);

/** Files that lay with the draft and are not needed once it is sent or dropped. */
export const discardFiles = (draft: Draft): Promise<unknown> => Promise.all(draft.files.map(({ blobId }) => door().message.removeFile(blobId).catch(() => undefined)));
