/** The book out of the vault and back: as a table for other programs, or locked. */
import { type Book } from '@under-lock/core/passwords/entry';
import { Button, Result, Row, Section, Text } from '@under-lock/ui';
import { useState } from 'react';
import { useAttempt } from '../shell/useAttempt';
import { LockedTable, Offered, useBringing } from './BookIn';
import { SaveLocked, SaveReadable } from './BookOut';

export function MoveBook({ book }: { book: Book }) {
  const { busy, said, say, attempt } = useAttempt();
  const [saving, setSaving] = useState<'readable' | 'locked' | undefined>();
  const { locked, offer, choose, unlock, take, leave } = useBringing(book, { say, attempt });
  const close = (): void => setSaving(undefined);
  return (
    <Section title="Take it with you">
      <Text kind="small" tone="soft">
        As a locked file (a ZIP with AES-256, any unpacking program opens it) for another vault, or as a plain table for
        another program.
      </Text>
      <Row>
        <Button label="Save it locked" onPress={() => setSaving('locked')} disabled={book.length === 0} />
        <Button
          kind="quiet"
          label="Save it as a table"
          onPress={() => setSaving('readable')}
          disabled={book.length === 0}
        />
        <Button label="Bring one in" busy={busy} onPress={() => void choose()} />
      </Row>
      <Result said={said} />
      {locked === undefined ? null : (
        <LockedTable busy={busy} onOpen={(password) => void unlock(locked, password)} onLeave={leave} />
      )}
      {offer === undefined ? null : (
        <Offered key={offer.id} offer={offer} busy={busy} onTake={(lines) => void take(lines)} onLeave={leave} />
      )}
      <SaveReadable book={book} open={saving === 'readable'} onClose={close} />
      <SaveLocked book={book} open={saving === 'locked'} onClose={close} />
    </Section>
  );
}
