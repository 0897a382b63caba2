/** An access for each who reads here, and how each of them is to be known. */
import { defined } from '../../defined';
import { isPasscodeWay } from '../../handling/handling';
import { oneAt, accountAt } from '../../people/find';
import { type Among } from '../known';
import { type ChosenLine } from '../lock';
import { type WantedGrant, type WantedReader } from '../wanted';

function readerOf({ recipient, chosen }: ChosenLine, { colleagues, registered }: Among): WantedReader {
  const { address, language, phone, secondAddress, question, answer, told } = recipient;
  const check = chosen.check!;
  if (check.kind === 'account') {
    const { id: accountId, key } = accountAt(colleagues, address)!;
    return { kind: 'account', accountId, suite: key!.suite, publicKey: key!.publicKey };
  }
  if (check.kind === 'password') {
    const { id: readerId, key } = oneAt(registered, address)!;
    return { kind: 'registered', readerId, ...defined({ language }), suite: key.suite, publicKey: key.publicKey };
  }
  const target = !isPasscodeWay(check.kind) ? undefined : check.kind === 'email' ? secondAddress! : phone!;
  return {
    kind: 'link',
    ...defined({ language }),
    check: check.kind,
    ...defined({ target }),
    ...(check.kind === 'told' ? { told: told! } : {}),
    ...(check.question ? { question: { text: question!.trim(), answer: answer! } } : {}),
  };
}

export const wantedAccesses = (lines: readonly ChosenLine[], among: Among): WantedGrant[] =>
  lines.map((line) => {
    const { address, name, role } = line.recipient;
    return { address, name, role, reader: readerOf(line, among) };
  });
