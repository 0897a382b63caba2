/** A mail in a mailbox outside, as its owner's program shows it. */
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { Banner, Button, Line, Loading, Panel, Prose, Row, Text } from '@under-lock/ui';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { useLocalSearchParams } from 'expo-router';
import { useEffect, useState } from 'react';
import { useNow, zone } from '../clock';
import { useOffice } from '../session/useOffice';
import { saveFile } from '../save-file';
import { WayLink } from '../shell/WayLink';
import { LetterForm } from './LetterForm';
import { Page, silent } from './Page';
import { fileOf, markRead, useMail, useMailbox } from './useOutside';

export function OutsideMailScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: office } = useOffice();
  const { data: mail, error } = useMail(id);
  const { data: mailbox } = useMailbox(mail?.mailbox);
  const now = useNow();
  const [source, setSource] = useState(false);
  const url = office?.outsideUrl;
  useEffect(() => {
    if (url !== undefined) void markRead(url, id);
  }, [url, id]);
  if (mail === undefined)
    return (
      <Page title="Mail" back={<WayLink href="/outside" label="Outside world" />}>
        {error === undefined ? <Loading what="Opening the mail" /> : silent}
      </Page>
    );
  const box = mail.mailbox;
  return (
    <Page title={mail.subject} back={<WayLink href={`/outside/mailbox/${encodeURIComponent(box)}`} label={box} />}>
      <Text
        kind="small"
        tone="soft"
      >{`From ${mail.from.name} <${mail.from.address}> · to ${mail.to.map((one) => one.address).join(', ')} · ${momentInWords(mail.receivedAt, now, zone)}`}</Text>
      {mail.lock === undefined ? null : (
        <Banner tone="sea">{`${mail.lock.encrypted ? `Their mail program opened it with their ${mail.lock.by === 'openpgp' ? 'OpenPGP key' : 'certificate'}.` : 'Not encrypted.'} ${mail.lock.signedBy.length === 0 ? 'It is not signed.' : `Signed by ${mail.lock.signedBy.join(' and ')}.`}`}</Banner>
      )}
      {mail.junk ? <Banner tone="amber">Their mail host filed this as junk.</Banner> : null}
      {/* Above the mail, whose frame finds its height only when it has been drawn. */}
      {mailbox === undefined ? null : (
        <LetterForm
          key={mail.id}
          from={box}
          certificate={mailbox.certificate}
          openpgp={mailbox.openpgp}
          to={mail.from.address}
          subject={/^re:/i.test(mail.subject) ? mail.subject : `Re: ${mail.subject}`}
          answers={mail.conversation}
        />
      )}
      <Row>
        <Button
          label={source ? 'Hide the source' : 'Show the source'}
          expanded={source}
          onPress={() => setSource(!source)}
        />
      </Row>
      {source ? (
        <Panel>
          <Line last>
            <Prose kind="mono" selectable>
              {mail.source}
            </Prose>
          </Line>
        </Panel>
      ) : null}
      <Panel>
        <Line last>
          {mail.html === '' ? (
            <Prose selectable>{mail.text}</Prose>
          ) : (
            <HtmlFrame html={mail.html} title={mail.subject} />
          )}
        </Line>
      </Panel>
      <Files mail={mail} url={url} />
    </Page>
  );
}

type Shown = NonNullable<ReturnType<typeof useMail>['data']>;

function Files({ mail: { id, files, lock }, url }: { mail: Shown; url: string | undefined }) {
  if (files.length === 0) return null;
  return (
    <Panel>
      {files.map((file, index) => (
        <Line key={file.name} last={index === files.length - 1}>
          <Prose>{`${file.name} (${sizeInWords(file.size)})`}</Prose>
          {lock !== undefined || url === undefined ? null : (
            <Row>
              <Button
                label="Save"
                describe={`Save ${file.name}`}
                onPress={() =>
                  void fileOf(url, id, index).then((bytes) => saveFile(bytes, file.name, 'application/octet-stream'))
                }
              />
            </Row>
          )}
        </Line>
      ))}
    </Panel>
  );
}
