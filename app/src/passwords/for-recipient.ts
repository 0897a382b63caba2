/** A password taken for a recipient of locked files. */
import { type FileRules, wayFor } from '@under-lock/core/locks/file/rules';
import { type Person } from '@under-lock/core/people/kept-person';
import { personAt } from '@under-lock/core/people/find';
import { rememberPerson } from '../people/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { refreshed } from '../vault/useVault';
import { type ChosenPassword } from './PasswordForm';
import { type Book, type DraftPassword } from '@under-lock/core/passwords/entry';
import { rememberPassword } from './usePasswords';

interface Known {
  people: readonly Kept<Person>[];
  passwords: Book;
  fileRules: FileRules;
}

/**
 * `eachTime`: each message has one of its own.
 * Into the book at once when it is to serve for all messages; else into the draft, from where it goes into the book
 * when the message is sent, or nowhere. @throws ApiProblem
 */
export async function takePassword(
  { people, passwords, fileRules, name, eachTime }: Known & { name: string; eachTime: boolean },
  address: string,
  { password, guesses, telling, remember }: ChosenPassword,
  keepInDraft: (password: DraftPassword | undefined) => void,
): Promise<void> {
  const person = personAt(people, address)?.value;
  const way = wayFor(fileRules, address, person?.fileWay);
  const told = telling === 'agreed';
  // First, and seen by the plan before the password is: a file must not go with a note that says another way.
  if (way.telling !== telling || way.remember !== remember) {
    await rememberPerson(people, {
      ...person,
      name: person?.name ?? name,
      address,
      fileWay: { ...way, telling, remember },
    });
    await refreshed('person');
  }
  if (remember && !eachTime) {
    await rememberPassword(
      passwords,
      { address, direction: 'out', password, guesses, ...(told ? { toldAt: new Date().toISOString() } : {}) },
      new Date(),
    );
    keepInDraft(undefined);
  } else keepInDraft({ password, guesses, told, remember });
}
