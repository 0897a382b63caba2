/** For messages of many readers: finding some of them and acting on all that were selected. */
import { type Grant } from '@under-lock/contract/outgoing';
import { Button, Choice, Field, Row, Stack, Text } from '@under-lock/ui';

/** Up to here every reader's line is in view and nothing needs to be found. */
export const FEW = 8;

export const GRANT_SHELVES = ['all', 'not-opened', 'opened', 'not-reached', 'ended'] as const;
export type GrantShelf = (typeof GRANT_SHELVES)[number];
const shelfWords: Record<GrantShelf, string> = {
  all: 'All',
  'not-opened': 'Not opened',
  opened: 'Opened',
  'not-reached': 'Not reached',
  ended: 'Closed or withdrawn',
};

function isOn(shelf: GrantShelf, { state, opened, notice }: Grant): boolean {
  switch (shelf) {
    case 'all':
      return true;
    case 'not-opened':
      return state === 'held' && opened.count === 0;
    case 'opened':
      return opened.count > 0;
    case 'not-reached':
      return state === 'held' && ['refused', 'bounced', 'junk', 'waiting'].includes(notice.state);
    case 'ended':
      return state !== 'held';
  }
}

export const matches = (grant: Grant, find: string, shelf: GrantShelf): boolean =>
  isOn(shelf, grant) && `${grant.name} ${grant.address}`.toLowerCase().includes(find.trim().toLowerCase());

export function GrantFilter({
  find,
  filter,
  onFind,
  onFilter,
}: {
  find: string;
  filter: GrantShelf;
  onFind: (find: string) => void;
  onFilter: (filter: GrantShelf) => void;
}) {
  return (
    <Stack>
      <Field label="Find a reader" value={find} onChangeText={onFind} autoComplete="off" />
      <Choice
        label="Show"
        value={filter}
        onChange={onFilter}
        row
        options={GRANT_SHELVES.map((value) => ({ value, label: shelfWords[value] }))}
      />
    </Stack>
  );
}

interface Props {
  /** Those in view that can be acted on. */
  shown: readonly Grant[];
  selected: readonly Grant[];
  onSelect: (ids: string[]) => void;
  onMove: () => void;
  onWithdraw: () => void;
  onTell: () => void;
}

export function Selection({ shown, selected, onSelect, onMove, onWithdraw, onTell }: Props) {
  const some = selected.length > 0;
  return (
    <Row>
      <Text kind="small" aria-live="polite">{`${selected.length} selected`}</Text>
      <Button
        label={`Select these ${shown.length}`}
        onPress={() => onSelect([...new Set([...selected, ...shown].map(({ id }) => id))])}
        disabled={shown.length === 0}
      />
      {some ? <Button kind="quiet" label="Select none" onPress={() => onSelect([])} /> : null}
      {some ? (
        <Button label="Tell again" describe={`Tell again: ${selected.length} selected`} onPress={onTell} />
      ) : null}
      {some ? (
        <Button label="Move the date" describe={`Move the date for ${selected.length} selected`} onPress={onMove} />
      ) : null}
      {some ? (
        <Button
          kind="stop"
          label="Withdraw"
          describe={`Withdraw from ${selected.length} selected`}
          onPress={onWithdraw}
        />
      ) : null}
    </Row>
  );
}
