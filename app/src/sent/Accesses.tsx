/** Who can read a sent message: a line each, from many on with a filter and with several chosen at once. */
import { type Grant } from '@under-lock/contract/outgoing';
import { Button, Empty, Panel, Row, Section } from '@under-lock/ui';
import { useState } from 'react';
import { type GrantActs, GrantLine } from './GrantLine';
import { FEW, GrantFilter, type GrantShelf, matches, Selection } from './GrantSelection';
import { type SentWithAll } from './MessageAsked';

interface Props {
  message: SentWithAll;
  closesAt: Date | undefined;
  leaving: boolean;
  now: Date;
  acts: GrantActs & { tellAll: (grants: Grant[]) => void };
}

export function Accesses({ message, closesAt, leaving, now, acts }: Props) {
  const [find, setFind] = useState('');
  const [filter, setFilter] = useState<GrantShelf>('all');
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const held = message.grants.filter(({ state }) => state === 'held');
  const many = message.grants.length > FEW;
  const shown = many ? message.grants.filter((grant) => matches(grant, find, filter)) : message.grants;
  const chosen = held.filter(({ id }) => selected.has(id));
  const canGiveAgain = message.contentBlobId !== undefined && message.opened !== undefined;
  const choose = (id: string, on: boolean): void =>
    setSelected((before) => new Set(on ? [...before, id] : [...before].filter((one) => one !== id)));
  return (
    <Section title="Who can read it" aside={`${held.length} of ${message.grants.length}`}>
      {many ? (
        <>
          <GrantFilter find={find} filter={filter} onFind={setFind} onFilter={setFilter} />
          <Selection
            shown={shown.filter(({ state }) => state === 'held')}
            selected={chosen}
            onSelect={(ids) => setSelected(new Set(ids))}
            onMove={() => acts.ask({ what: 'move', grants: chosen })}
            onWithdraw={() => acts.ask({ what: 'withdraw', grants: chosen })}
            onTell={() => acts.tellAll(chosen)}
          />
        </>
      ) : null}
      <Panel>
        {shown.length === 0 ? (
          <Empty title="Nobody">No reader of this message fits what you are looking for.</Empty>
        ) : null}
        {shown.map((grant, index) => (
          <GrantLine
            key={grant.id}
            {...{ grant, closesAt, leaving, now, acts, canGiveAgain }}
            last={index === shown.length - 1}
            told={message.opened?.told?.[grant.id]}
            several={message.grants.length > 1}
            {...(many && grant.state === 'held'
              ? { selected: selected.has(grant.id), onSelect: (on: boolean) => choose(grant.id, on) }
              : {})}
          />
        ))}
      </Panel>
      {canGiveAgain && !leaving ? (
        <Row>
          <Button label="Let somebody else read it" onPress={() => acts.ask({ what: 'add', corrects: undefined })} />
        </Row>
      ) : null}
    </Section>
  );
}
