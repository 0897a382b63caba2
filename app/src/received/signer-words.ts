/** What a signature says of a mail, in a sentence beside its sender. */
import { isFrom, type Origin, originSentence } from '@under-lock/core/incoming/origin';
import { type UnwrapErrorCode } from '@under-lock/core/locks/layer';
import { type OtherFile } from '@under-lock/core/incoming/recognise';
import { listed } from '../handling/words';
import { type OpenPgpView } from '../keys/openpgp/view';
import { findingWords, fingerprintInGroups } from '../keys/words';
import { type OpenedMail, type OpenOutcome, type SignerView } from '../threads/keys/opening';

export interface Said {
  tone: 'sea' | 'amber' | 'brick';
  text: string;
}

/** `from` is in whose name it speaks; a file beside a signature speaks in nobody's. */
export function signerWords(signer: SignerView, from?: string): Said {
  switch (signer.kind) {
    case 'signed':
      return signedWords(signer, from);
    case 'changed':
      return {
        tone: 'brick',
        text: `It has been changed since ${signer.certificate.name} signed it. Don’t rely on any of it; ask them to send it again.`,
      };
    case 'wrong':
      return {
        tone: 'brick',
        text: `The signature is not ${signer.certificate.name}’s, although it says so. Don’t rely on any of it.`,
      };
    case 'unsupported':
      return { tone: 'amber', text: 'Its signature is of a kind that can’t be relied on any more.' };
    case 'no-certificate':
      return { tone: 'amber', text: 'It is signed, but the certificate for checking it did not come along.' };
    case 'key-signed':
      return keySignedWords(signer, from);
    case 'unreadable':
    case 'key-unreadable':
      return {
        tone: 'amber',
        text: 'It was signed, and the signature can’t be checked any more: on its way somebody damaged or replaced it, or put something beside what was signed. Anybody may have written what stands here.',
      };
    case 'key-changed':
      return {
        tone: 'brick',
        text: `It has been changed since ${keyName(signer.key)} signed it, or it never was theirs. Don’t rely on any of it; ask them to send it again.`,
      };
    case 'key-unsupported':
      return { tone: 'amber', text: 'Its signature is of a kind that can’t be relied on any more.' };
    case 'key-missing':
      return {
        tone: 'amber',
        text: `It is signed with an OpenPGP key that is not known here (${fingerprintInGroups(signer.keyId)}), so nobody can say by whom. Get their key under People.`,
      };
  }
}

function signedWords(
  { certificate: { name, issuer }, verdict }: Extract<SignerView, { kind: 'signed' }>,
  from: string | undefined,
): Said {
  const notes = verdict.findings.map(findingWords).join(' ');
  if (verdict.level === 'stop')
    return { tone: 'brick', text: `It carries a signature of ${name}, which is not to be relied on. ${notes}` };
  return {
    tone: verdict.level === 'valid' ? 'sea' : 'amber',
    text: `Signed by ${name}${from === undefined ? '' : `, for ${from}`}, and unchanged since. ${issuer} vouches for them${verdict.personal ? ', whom only you trust' : ''}.${notes === '' ? '' : ` ${notes}`}`,
  };
}

const keyName = ({ name, addresses, fingerprint }: OpenPgpView): string =>
  name || addresses[0] || fingerprintInGroups(fingerprint.slice(-16));

function keySignedWords(
  { key, verdict, along, apart }: Extract<SignerView, { kind: 'key-signed' }>,
  from: string | undefined,
): Said {
  const notes = verdict.findings.map(findingWords).join(' ');
  if (verdict.level === 'stop')
    return { tone: 'brick', text: `It carries a signature of ${keyName(key)}, which is not to be relied on. ${notes}` };
  // Whoever wrote the mail may have made the key for it: then the signature proves nothing of who that is.
  if (along && verdict.level !== 'valid')
    return {
      tone: 'amber',
      text: `It is signed with a key that came with it and says it is ${keyName(key)}’s. Anybody can make such a key: until you have compared it, this says nothing of who wrote it.`,
    };
  const each = apart ? ' Its text and its files are signed each by itself: that they belong together is not.' : '';
  const vouch =
    verdict.vouchedBy.length === 0
      ? ''
      : ` ${listed(
          verdict.vouchedBy.map(({ name }) => name),
          'and',
        )} vouch${verdict.vouchedBy.length === 1 ? 'es' : ''} for the key.`;
  return {
    tone: verdict.level === 'valid' && !apart ? 'sea' : 'amber',
    text: `Signed by ${keyName(key)}${from === undefined ? '' : `, for ${from}`}, and unchanged since.${vouch}${notes === '' ? '' : ` ${notes}`}${each}`,
  };
}

export const isVouchedFor = ({ signers }: OpenedMail): boolean =>
  signers.some(
    (signer) =>
      (signer.kind === 'signed' && signer.verdict.level !== 'stop') ||
      (signer.kind === 'key-signed' &&
        (signer.verdict.level === 'valid' || (signer.verdict.level === 'unchecked' && !signer.along))),
  );

/** Everything that is to be known before it is read, the gravest first. */
const BY_ANYBODY = 'Not signed: anybody may have written this in that name.';

/** What is to be known of a mail that nobody signed; nothing where its domain says that it sent it. */
function unsignedWords(origin: Origin | undefined, from: string): Said[] {
  if (origin === undefined) return [{ tone: 'amber', text: BY_ANYBODY }];
  if (origin.is === 'contradicted') return [{ tone: 'brick', text: `${originSentence(origin)} Not signed either.` }];
  if (origin.is !== 'vouched') return [{ tone: 'amber', text: `${originSentence(origin)} ${BY_ANYBODY}` }];
  if (isFrom(origin, from)) return [];
  return [{ tone: 'brick', text: `It says it is from ${from}, and ${originSentence(origin)}` }];
}

interface Around {
  /** What is known of its sender is said elsewhere. */
  leftInSlot?: boolean;
  origin?: Origin | undefined;
}

export function mailWords(mail: OpenedMail, { leftInSlot = false, origin }: Around = {}): Said[] {
  const { message, signers, encrypted, changedOutside, severalSenders, partsOnTheirOwn } = mail;
  const said: Said[] = signers.map((signer) => signerWords(signer, message.from.address || undefined));
  if (signers.length === 0 && !leftInSlot) said.push(...unsignedWords(origin, message.from.address));
  else if (origin?.is === 'contradicted' && !isVouchedFor(mail))
    said.push({ tone: 'brick', text: originSentence(origin) });
  if (severalSenders) said.push({ tone: 'brick', text: 'It names several senders outside. Only one can be right.' });
  if (changedOutside.length > 0)
    said.push({
      tone: 'brick',
      text: `On its way the ${changedOutside.join(', ')} outside was changed. What is shown is what the sender sealed.`,
    });
  if (encrypted !== undefined) {
    if (encrypted.old)
      said.push({
        tone: 'amber',
        text: `Encrypted in an old way (${encrypted.cipher}) that does not keep a secret for long. Ask for a newer one.`,
      });
    if (!encrypted.authenticated && !isVouchedFor(mail))
      said.push({
        tone: 'amber',
        text: 'It was encrypted without a seal against changes, and nobody’s signature makes up for that: only its text is shown, and what it says may have been tampered with.',
      });
  }
  if (partsOnTheirOwn > 0)
    said.push({
      tone: 'amber',
      text: `${partsOnTheirOwn === 1 ? 'A part of it is' : `${partsOnTheirOwn} parts of it are`} signed or encrypted apart. That says nothing about the rest, so it stays closed: save it and open it by itself.`,
    });
  const order = { brick: 0, amber: 1, sea: 2 } as const;
  return said.sort((a, b) => order[a.tone] - order[b.tone]);
}

const FORMS = 'Files that can be opened here end in .eml, .p7m, .p7s, .p7b, .cer, .asc, .pgp or .gpg.';
/** What somebody dropped that is no mail. */
const otherFileWords: Record<OtherFile, string> = {
  empty: 'This file is empty.',
  picture: `This is a picture, not a mail. ${FORMS}`,
  film: `This is a film, not a mail. ${FORMS}`,
  sound: `This is a sound recording, not a mail. ${FORMS}`,
  paper: 'This is a document that anybody can open, not a mail. Open it with the program it belongs to.',
  compound:
    'This is an old office document, or a mail saved in a mail program’s own format (.msg). Save the mail as .eml there and open that.',
  archive: 'This is an archive of a kind that is not unpacked here. Ask for a ZIP.',
  program: 'This is a program, not a mail. Don’t start it unless you know whose it is.',
  text: 'This is a text without a sender, not a mail. It can be read in any program that shows text.',
  unknown: `Nothing here knows what this file is; it is not a mail. ${FORMS}`,
};

const failureWords: Record<UnwrapErrorCode, string> = {
  'not-for-us':
    'It is encrypted, and none of your keys opens it. If you have the right one elsewhere, bring it under Keys.',
  'not-opened': 'It does not open: it was damaged on its way, or changed. Ask for it again.',
  malformed:
    'This is not a mail, or it is damaged. Files that can be opened end in .eml, .p7m, .p7s, .p7b, .cer, .asc, .pgp or .gpg.',
  unsupported: 'It is locked in a way that can’t be read here.',
  'too-deep': 'It is wrapped in more layers than any honest mail. It stays closed.',
};

/** Why nothing of it is shown. */
export const failureOf = (outcome: Extract<OpenOutcome, { outcome: UnwrapErrorCode | 'no-mail' }>): string =>
  outcome.outcome === 'no-mail' ? otherFileWords[outcome.kind] : failureWords[outcome.outcome];
