/** A signed statement of what ended: for whom, on which paper, and the check that goes with it. */
import { type Grant } from '@under-lock/contract/outgoing';
import { type Office } from '@under-lock/contract/office';
import { type StatementFile } from '@under-lock/core/statement/format';
import { inGroups } from '@under-lock/core/statement/statement';
import { Banner, Button, Check, Choice, Dialog, Row, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { endWords, openedWords, who } from '../handling/grant-words';
import { paperHere } from '../paper';
import { problemWords } from '../problem-words';
import { saveCheck, saveJson, savePdf, signedStatement } from './make-statement';

interface Props {
  messageId: string;
  subject: string;
  ended: readonly Grant[];
  office: Office;
  now: Date;
  onClose: () => void;
}

/** So many are listed to choose from; of more all are stated. */
const LISTED = 12;

export function StatementDialog({ messageId, subject, ended, office, now, onClose }: Props) {
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [paper, setPaper] = useState(paperHere);
  const [busy, setBusy] = useState<'pdf' | 'json' | 'check' | undefined>();
  const [said, setSaid] = useState<{ tone: 'sea' | 'brick'; text: string } | undefined>();
  // One statement, however often and in whichever form it is saved, until something else is chosen.
  const [made, setMade] = useState<{ for: string; file: StatementFile } | undefined>();
  const chosen = ended.filter(({ id }) => !left.has(id));
  const wanted = chosen.map(({ id }) => id).join(' ');
  const statement = async (): Promise<StatementFile> => {
    if (made?.for === wanted) return made.file;
    const file = await signedStatement(
      messageId,
      chosen.map(({ id }) => id),
    );
    setMade({ for: wanted, file });
    return file;
  };
  const act = async (what: 'pdf' | 'json' | 'check', task: () => Promise<unknown>, text: string): Promise<void> => {
    setBusy(what);
    setSaid(undefined);
    try {
      await task();
      setSaid({ tone: 'sea', text });
    } catch (problem) {
      setSaid({ tone: 'brick', text: problemWords(problem) });
    } finally {
      setBusy(undefined);
    }
  };
  const none = chosen.length === 0;
  return (
    <Dialog
      title="Statement of ended access"
      open
      onClose={onClose}
      actions={
        <>
          <Button
            kind="main"
            label="Save as PDF"
            busy={busy === 'pdf'}
            disabled={none || busy !== undefined}
            onPress={() =>
              void act(
                'pdf',
                async () => savePdf(await statement(), subject, paper),
                'The PDF is saved; the signed statement is attached to it.',
              )
            }
          />
          <Button
            label="Save as JSON"
            busy={busy === 'json'}
            disabled={none || busy !== undefined}
            onPress={() => void act('json', async () => saveJson(await statement()), 'The signed statement is saved.')}
          />
          <Button kind="quiet" label="Close" onPress={onClose} />
        </>
      }
    >
      <Text>
        The office signs who could read this message, until when, whether they had opened it, and that its server can’t
        give out the means to open it any more.
      </Text>
      {ended.length > LISTED ? (
        <Text>{`All ${ended.length} accesses that have ended are stated.`}</Text>
      ) : (
        <Stack style={styles.list}>
          {ended.map((grant) => (
            <Check
              key={grant.id}
              label={who(grant)}
              detail={`${endWords(grant, now)}; ${openedWords(grant, now)}`}
              value={!left.has(grant.id)}
              onChange={(on) =>
                setLeft((before) => {
                  const next = new Set(before);
                  if (on) next.delete(grant.id);
                  else next.add(grant.id);
                  return next;
                })
              }
            />
          ))}
        </Stack>
      )}
      <Choice
        label="Paper"
        row
        value={paper}
        onChange={setPaper}
        options={[
          { value: 'a4', label: 'A4' },
          { value: 'letter', label: 'Letter' },
        ]}
      />
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      <Stack>
        <Text kind="small" tone="soft">
          Whoever gets it checks it without us and without a network: with the check, one page that takes the PDF or the
          JSON. They compare the fingerprint of our key with the one you give them by another way:
        </Text>
        <Text kind="mono" style={styles.wrap}>
          {inGroups(office.statementKey)}
        </Text>
        <Row>
          <Button
            label="Save the check"
            busy={busy === 'check'}
            disabled={busy !== undefined}
            onPress={() => void act('check', saveCheck, 'The check is saved: open it in any browser.')}
          />
        </Row>
      </Stack>
    </Dialog>
  );
}

const styles = StyleSheet.create({ list: { gap: 0 }, wrap: { overflowWrap: 'anywhere' } as object });
