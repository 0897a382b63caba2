/** One mail slot: open or not, whom it is sealed to, its link and what can be made of it. */
import { type MailSlot, putSlot, renewSlotLink } from '@under-lock/contract/slot';
import { slotFooter } from '@under-lock/core/slot/footer';
import { Button, Check, Dialog, Fold, Line, Panel, Result, Row, Section, Stack, StateMark, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { api } from '../api';
import { saveFile } from '../save-file';
import { CopyButton } from '../shell/CopyButton';
import { QrPicture } from '../shell/QrPicture';
import { useAttempt } from '../shell/useAttempt';
import { SlotPeople } from './SlotPeople';
import { thenSlots, linkOf } from './useSlots';
import { behindWords, slotTitle } from './words';

type Change = Partial<Pick<MailSlot, 'open' | 'proves'>>;

export function SlotPanel({ slot, roomOrigin }: { slot: MailSlot; roomOrigin: string }) {
  const { busy, said, attempt } = useAttempt();
  const { id, open, proves, mine } = slot;
  const title = slotTitle(slot);
  const put = (change: Change): Promise<void> =>
    attempt(() => thenSlots(api(putSlot, { params: { id }, body: { open, proves, ...change } })));
  return (
    <Section title={title} aside={<StateMark tone={open ? 'done' : 'over'} word={open ? 'Open' : 'Closed'} />}>
      <Panel>
        <Line>
          <Text>{behindWords(slot)}</Text>
          {slot.kind === 'office' && mine ? <SlotPeople slot={slot} /> : null}
        </Line>
        {open ? <Link slot={slot} link={linkOf(roomOrigin, slot)} /> : null}
        {mine ? (
          <Line last>
            <Check
              label="Senders prove their mailbox first"
              describe={`Senders prove their mailbox first: ${title}`}
              detail="Six digits go to the address they give. Without it, anybody may leave something in any name, and it is marked so."
              value={proves}
              onChange={(next) => void put({ proves: next })}
            />
            <Result said={said} />
            <Row>
              <Button
                label={open ? 'Close it' : 'Open it again'}
                describe={`${open ? 'Close it' : 'Open it again'}: ${title}`}
                busy={busy}
                onPress={() => void put({ open: !open })}
              />
              {open ? <NewLink slot={slot} title={title} /> : null}
            </Row>
          </Line>
        ) : null}
      </Panel>
    </Section>
  );
}

function Link({ slot, link }: { slot: MailSlot; link: string }) {
  const { text, html } = slotFooter(link, slot.kind === 'colleague' ? 'mine' : 'ours');
  const title = slotTitle(slot);
  return (
    <Line last={!slot.mine}>
      <Text kind="mono" selectable style={styles.wrap}>
        {link}
      </Text>
      <Row>
        <CopyButton value={link} what="the link" />
      </Row>
      <Fold
        label={`For footers, pages and paper: ${title}`}
        head={<Text kind="label">For footers, pages and paper</Text>}
      >
        <Stack>
          <Text kind="small" tone="soft">
            {text}
          </Text>
          <Row>
            <CopyButton value={text} what="it as text" />
            <CopyButton value={html} what="it as HTML" />
          </Row>
          <QrPicture text={link} label={`The link of the mail slot, ${title}, as a picture`} />
          <Row>
            <Button kind="quiet" label="Save the picture" onPress={() => savePicture(link, title)} />
          </Row>
        </Stack>
      </Fold>
    </Line>
  );
}

/** As SVG, which every program for pages and paper takes. */
async function savePicture(link: string, title: string): Promise<void> {
  const { toString } = await import('qrcode');
  const svg = await toString(link, { type: 'svg', errorCorrectionLevel: 'M' });
  saveFile(new TextEncoder().encode(svg), `mail slot ${title}.svg`, 'image/svg+xml');
}

function NewLink({ slot: { id }, title }: { slot: MailSlot; title: string }) {
  const [asking, setAsking] = useState(false);
  const { busy, said, attempt } = useAttempt();
  const renew = (): Promise<void> =>
    attempt(async () => {
      await thenSlots(api(renewSlotLink, { params: { id } }));
      setAsking(false);
    });
  return (
    <>
      <Button kind="quiet" label="New link" describe={`New link: ${title}`} onPress={() => setAsking(true)} />
      <Dialog
        title="A new link for this mail slot?"
        open={asking}
        onClose={() => setAsking(false)}
        said={said}
        actions={
          <>
            <Button label="Make a new link" kind="main" busy={busy} onPress={() => void renew()} />
            <Button label="Keep the old one" onPress={() => setAsking(false)} />
          </>
        }
      >
        <Text>The old link leads nowhere from then on, also where it stands in footers, on pages and on paper.</Text>
      </Dialog>
    </>
  );
}

const styles = StyleSheet.create({ wrap: { overflowWrap: 'anywhere' } as object });
