/** Signed statements, of what ended and of a delivery: on which paper, in which form, and the check that goes with it. */
import { type Grant, type SentCopy } from '@under-lock/contract/outgoing';
import { type Office } from '@under-lock/contract/office';
import { type AnyStatement, type StatementFile } from '@under-lock/core/statement/format';
import { inGroups } from '@under-lock/core/statement/statement';
import { Button, Check, Choice, Dialog, Row, type Said, Stack, Text } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { StyleSheet } from 'react-native';
import { confirmedWords, endWords, openedWords, who } from '../handling/grant-words';
import { paperHere } from '../paper';
import { problemWords } from '../problem-words';
import { saveCheck, saveJson, savePdf, signedDelivery, signedStatement } from './make-statement';

/** So many are listed to choose from; of more all are stated. */
const LISTED = 12;

interface FrameProps {
  title: string;
  subject: string;
  office: Office;
  /** Says what is stated: one statement, however often and in whichever form it is saved, until something else is. */
  wanted: string;
  make: () => Promise<StatementFile<AnyStatement>>;
  none?: boolean;
  children: ReactNode;
  onClose: () => void;
}

type Saved = 'pdf' | 'json' | 'check';

/** The statement, made once for what is wanted; one save at a time, and what became of it. */
function useStatement({ wanted, make }: Pick<FrameProps, 'wanted' | 'make'>) {
  const [busy, setBusy] = useState<Saved | undefined>();
  const [said, setSaid] = useState<Said | undefined>();
  const [made, setMade] = useState<{ for: string; file: StatementFile<AnyStatement> } | undefined>();
  const statement = async (): Promise<StatementFile<AnyStatement>> => {
    if (made?.for === wanted) return made.file;
    const file = await make();
    setMade({ for: wanted, file });
    return file;
  };
  const act = async (what: Saved, task: () => Promise<unknown>, text: string): Promise<void> => {
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
  return { busy, said, statement, act };
}

/** What every statement has: on which paper, in which form, and the check that goes with it. */
function StatementFrame({ title, subject, office, none = false, children, onClose, ...what }: FrameProps) {
  const [paper, setPaper] = useState(paperHere);
  const { busy, said, statement, act } = useStatement(what);
  return (
    <Dialog
      title={title}
      open
      onClose={onClose}
      said={said}
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
      {children}
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

interface Props {
  messageId: string;
  subject: string;
  office: Office;
  now: Date;
  onClose: () => void;
}

/** What ended: for whom. */
export function EndedStatement({ messageId, ended, now, ...frame }: Props & { ended: readonly Grant[] }) {
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const ids = ended.filter(({ id }) => !left.has(id)).map(({ id }) => id);
  return (
    <StatementFrame
      {...frame}
      title="Statement of ended access"
      wanted={ids.join(' ')}
      make={() => signedStatement(messageId, ids)}
      none={ids.length === 0}
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
    </StatementFrame>
  );
}

/** Who was told, how they were known, who opened it: of everybody, as it is now. */
export function DeliveryStatementDialog({
  messageId,
  grants,
  copies,
  now,
  ...frame
}: Props & { grants: readonly Grant[]; copies: readonly SentCopy[] }) {
  return (
    <StatementFrame
      {...frame}
      title="Statement of delivery"
      // Every minute another one: what is known may be more by then.
      wanted={String(Math.floor(now.getTime() / 60_000))}
      make={() => signedDelivery(messageId)}
    >
      <Text>
        The office signs who was told of this message and what their mail host answered, how each had to prove who they
        are, when they opened it and confirmed that, and until when they could.
      </Text>
      {grants.length + copies.length > LISTED ? (
        <Text>{`All ${grants.length + copies.length} people are stated.`}</Text>
      ) : (
        <Stack style={styles.list}>
          {grants.map((grant) => (
            <Text
              key={grant.id}
              kind="small"
            >{`${who(grant)}: ${openedWords(grant, now)}${confirmedWords(grant, now)}`}</Text>
          ))}
          {copies.map((copy) => (
            <Text key={copy.id} kind="small">{`${copy.name || copy.address}: a copy of their own`}</Text>
          ))}
        </Stack>
      )}
    </StatementFrame>
  );
}

const styles = StyleSheet.create({ list: { gap: 0 }, wrap: { overflowWrap: 'anywhere' } as object });
