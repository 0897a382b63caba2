/** What the reader has begun to write and not sent yet. */
import { momentInWords } from '@under-lock/core/when';
import { Button, Line, Panel, Row, Section, Text } from '@under-lock/ui';
import useSWR, { mutate } from 'swr';
import { useNow } from '../clock';
import { language } from '../words/words';
import { dropDraft, type KeptDraft, listDrafts, type Session } from './account';
import { listWords } from './words';
import { zone } from '../zone';

const drafts = ({ reader }: Session): readonly [string, string] => ['drafts', reader.id];
/** After something was written or thrown away. */
export const refreshDrafts = (session: Session): Promise<unknown> => mutate(drafts(session));

export function DraftList({ session, onOpen }: { session: Session; onOpen: (draft: KeptDraft) => void }) {
  const now = useNow();
  const { data: items = [] } = useSWR(drafts(session), () => listDrafts(session));
  if (items.length === 0) return null;
  const titleOf = ({ subject }: KeptDraft): string => subject.trim() || listWords.noSubject;
  return (
    <Section title={listWords.drafts} aside={String(items.length)}>
      <Panel>
        {items.map((draft, index) => (
          <Line key={draft.id} last={index === items.length - 1}>
            <Text kind="strong">{titleOf(draft)}</Text>
            <Text kind="small" tone="soft">
              {momentInWords(draft.updatedAt, now, zone, language)}
            </Text>
            <Row>
              <Button
                label={listWords.goOn}
                describe={`${listWords.goOn}: ${titleOf(draft)}`}
                onPress={() => onOpen(draft)}
              />
              <Button
                kind="quiet"
                label={listWords.throwAway}
                describe={`${listWords.throwAway}: ${titleOf(draft)}`}
                onPress={() => void dropDraft(draft.id).finally(() => refreshDrafts(session))}
              />
            </Row>
          </Line>
        ))}
      </Panel>
    </Section>
  );
}
