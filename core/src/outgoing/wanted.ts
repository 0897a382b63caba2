/** What a plan asks to be made: an access for each who reads here, a mail of their own for those who get a copy. */
import { type IdentityCheck } from '../handling/handling';
import { isRead } from '../locks/lock';
import { oneAt, personAt } from '../people/find';
import { type Language } from '../people/language';
import { isOwnAddress } from '../people/own-addresses';
import { type RecipientRole } from '../people/role';
import { type PlanLine } from '../plan/plan';
import { type Attempt, type Draft } from './draft';
import { type AccountKey, type Known } from './known';
import { fileWayIn, type Planned } from './plan';

export interface Asked {
  text: string;
  answer: string;
}

/** How one recipient is to be known, before anything is sealed for them. */
export type WantedReader =
  | { kind: 'link'; language?: Language; check: IdentityCheck; target?: string; question?: Asked }
  | ({ kind: 'account'; accountId: string } & AccountKey)
  | ({ kind: 'registered'; readerId: string; language?: Language } & AccountKey);

export interface WantedGrant {
  address: string;
  name: string;
  role: RecipientRole;
  /** The content travels as a file. */
  carried?: boolean;
  reader: WantedReader;
}

export type WantedCopy = Pick<Attempt['copies'][number], 'lock' | 'form' | 'file'> & {
  recipients: { address: string; name: string; role: RecipientRole }[];
};

type Among = Pick<Known, 'people' | 'colleagues' | 'registered' | 'passwords' | 'fileRules'>;

const spoken = (language: Language | undefined): { language?: Language } =>
  language === undefined ? {} : { language };

/** The plan has seen to it that nothing is missing. */
function readerOf({ recipient, chosen }: PlanLine, { colleagues, registered }: Among): WantedReader {
  const { address, language, phone, secondAddress, question, answer } = recipient;
  const check = chosen.check!;
  if (check.kind === 'account') {
    const { id: accountId, key } = colleagues.find((one) => isOwnAddress(one, address))!;
    return { kind: 'account', accountId, suite: key!.suite, publicKey: key!.publicKey };
  }
  if (check.kind === 'password') {
    const { id: readerId, key } = oneAt(registered, address)!;
    return { kind: 'registered', readerId, ...spoken(language), suite: key.suite, publicKey: key.publicKey };
  }
  const target = check.kind === 'question' ? undefined : check.kind === 'email' ? secondAddress! : phone!;
  return {
    kind: 'link',
    ...spoken(language),
    check: check.kind,
    ...(target === undefined ? {} : { target }),
    ...(check.question ? { question: { text: question!.trim(), answer: answer! } } : {}),
  };
}

export const wantedGrants = ({ plan }: Pick<Planned, 'plan'>, among: Among): WantedGrant[] =>
  plan.lines
    .filter(({ chosen }) => isRead(chosen.lock))
    .map((line) => {
      const { address, name, role } = line.recipient;
      const grant = { address, name, role, reader: readerOf(line, among) };
      return line.chosen.lock === 'carried' ? { ...grant, carried: true } : grant;
    });

/** A locked file goes to each by a mail of its own: each has a password of their own. */
function wantedFiles(draft: Draft, { plan }: Pick<Planned, 'plan'>, among: Among): WantedCopy[] {
  return plan.lines
    .filter(({ chosen }) => chosen.lock === 'file')
    .map(({ chosen, recipient: { address, name, role } }) => {
      const { way, password } = fileWayIn({ draft, ...among }, address);
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
export function wantedCopies(draft: Draft, planned: Pick<Planned, 'plan'>, among: Among): WantedCopy[] {
  const ways: WantedCopy[] = [
    { lock: 'certificate', form: 'mime', recipients: [] },
    { lock: 'openpgp', form: 'mime', recipients: [] },
    { lock: 'openpgp', form: 'attachments', recipients: [] },
  ];
  for (const { chosen, recipient } of planned.plan.lines) {
    const { address, name, role } = recipient;
    const isSealed = chosen.clear !== true;
    const form =
      isSealed && chosen.lock === 'openpgp' ? (personAt(among.people, address)?.value.mailForm ?? 'mime') : 'mime';
    const way = ways.find((one) => one.lock === chosen.lock && one.form === form);
    if (way !== undefined && role === 'bcc' && isSealed) ways.push({ ...way, recipients: [{ address, name, role }] });
    else way?.recipients.push({ address, name, role });
  }
  return [...ways.filter(({ recipients }) => recipients.length > 0), ...wantedFiles(draft, planned, among)];
}
