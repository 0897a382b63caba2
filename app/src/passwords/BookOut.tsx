/** The book out of the vault: locked, or as a table that anybody reads. */
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import { utf8 } from '@under-lock/core/bytes';
import { bookAsCsv } from '@under-lock/core/passwords/book';
import { type Book } from '@under-lock/core/passwords/entry';
import { Button, Dialog, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { exported } from '../exported';
import { saveFile } from '../save-file';
import { NewPassword, passwordProblem } from '../session/NewPassword';
import { useOpenSession } from '../session/session';
import { useAttempt } from '../shell/useAttempt';
import { keysDoor } from '../threads/keys/door';

const FILE = 'password-book.csv';

const asTable = (book: Book): Uint8Array<ArrayBuffer> =>
  utf8(
    bookAsCsv(
      book.map(({ value: { address, direction, password, note } }) => ({ address, direction, password, note })),
    ),
  );

interface Props {
  book: Book;
  open: boolean;
  onClose: () => void;
}

export function SaveReadable({ book, open, onClose }: Props) {
  const save = (): void => {
    saveFile(asTable(book), FILE, 'text/csv');
    exported('password-book');
    onClose();
  };
  return (
    <Dialog
      title="Save the passwords readable?"
      open={open}
      onClose={onClose}
      actions={
        <>
          <Button kind="stop" label="Save it readable" onPress={save} />
          <Button label="Leave it" onPress={onClose} />
        </>
      }
    >
      <Text>Whoever finds the file reads every password. Delete it as soon as the other program has it.</Text>
    </Dialog>
  );
}

export function SaveLocked({ book, open, onClose }: Props) {
  const { account } = useOpenSession();
  const { busy, said, attempt } = useAttempt();
  const [pair, setPair] = useState<PasswordPair>({ first: '', second: '' });
  const [problem, setProblem] = useState<string | undefined>();
  const save = (): Promise<void> =>
    attempt(async () => {
      const found = passwordProblem(pair, account.address);
      setProblem(found);
      if (found !== undefined) return;
      const bytes = await keysDoor().file.lockedTable(FILE, asTable(book), pair.first, new Date());
      saveFile(bytes, 'password-book.zip', 'application/zip');
      exported('password-book');
      onClose();
      setPair({ first: '', second: '' });
    });
  return (
    <Dialog
      title="Save the book locked"
      open={open}
      onClose={onClose}
      said={said}
      actions={
        <>
          <Button kind="main" label="Save the file" busy={busy} onPress={() => void save()} />
          <Button label="Not now" onPress={onClose} />
        </>
      }
    >
      <Stack>
        <NewPassword pair={pair} onChange={setPair} error={problem} />
      </Stack>
    </Dialog>
  );
}
