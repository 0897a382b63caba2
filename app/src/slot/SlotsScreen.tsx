/** Office › Mail slots: pages where anybody can leave something under lock. */
import { makeSlot, type MailSlot } from '@under-lock/contract/slot';
import { Banner, Button, Loading, Result, Row, Section, Text } from '@under-lock/ui';
import { api } from '../api';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { departmentsOf, useColleagues, useOffice } from '../session/useOffice';
import { BackToList } from '../shell/ListAndPage';
import { Screen } from '../shell/Screen';
import { useAttempt } from '../shell/useAttempt';
import { OfficeSlotButton } from './SlotPeople';
import { SlotPanel } from './SlotPanel';
import { thenSlots, useSlots } from './useSlots';

const back = <BackToList href="/office" label="Office" />;

export function SlotsScreen() {
  const { data: slots, error } = useSlots();
  const { data: office } = useOffice();
  return (
    <Screen title="Mail slots" back={back}>
      <Text tone="soft">
        A mail slot is a page where anybody can leave you a message with files. It is sealed in their browser, and comes
        to Received like mail.
      </Text>
      {error !== undefined ? <Banner tone="brick">{problemWords(error)}</Banner> : null}
      {slots === undefined || office === undefined ? (
        error === undefined ? (
          <Loading what="Looking up the mail slots" />
        ) : null
      ) : (
        <>
          {slots.map((slot) => (
            <SlotPanel key={slot.id} slot={slot} roomOrigin={office.roomOrigin} />
          ))}
          <MakeOne slots={slots} />
        </>
      )}
    </Screen>
  );
}

/** What there is not yet. */
function MakeOne({ slots }: { slots: readonly MailSlot[] }) {
  const { account } = useOpenSession();
  const { data: colleagues = [] } = useColleagues();
  const { busy, said, attempt } = useAttempt();
  const isAdministrator = account.role === 'administrator';
  const own = !slots.some(({ kind, mine }) => kind === 'colleague' && mine);
  const office = isAdministrator && !slots.some(({ kind }) => kind === 'office');
  const opened = slots.flatMap(({ kind, name }) => (kind === 'department' ? [name] : []));
  const departments = isAdministrator ? departmentsOf(colleagues).filter((one) => !opened.includes(one)) : [];
  const make = (body: Parameters<typeof api<typeof makeSlot>>[1]['body']): Promise<void> =>
    attempt(() => thenSlots(api(makeSlot, { body })));
  if (!own && !office && departments.length === 0) return null;
  return (
    <Section title={slots.length === 0 ? 'Open one' : 'Open another'}>
      <Row>
        {own ? (
          <Button
            kind={slots.length === 0 ? 'main' : 'plain'}
            label="One of my own"
            busy={busy}
            onPress={() => void make({ kind: 'colleague' })}
          />
        ) : null}
        {office ? <OfficeSlotButton /> : null}
        {departments.map((department) => (
          <Button
            key={department}
            label={`One for ${department}`}
            busy={busy}
            onPress={() => void make({ kind: 'department', department })}
          />
        ))}
      </Row>
      <Result said={said} />
    </Section>
  );
}
