/** Drafts in which what is looked for stands: few, and open already. */
import { excerptOf } from '@under-lock/core/search/scan';
import { holdsAll, marksIn, wordsAsked } from '@under-lock/core/search/fold';
import { Text } from '@under-lock/ui';
import { useNow } from '../clock';
import { BegunLine } from '../drafts/DraftLines';
import { type Begun, isHanded, useBegun } from '../drafts/useBegun';
import { Marked } from '../find/Marked';
import { Lines } from '../shell/Listed';
import { ListSection } from '../shell/ListScreen';
import { enoughLetters } from './FoundNames';

const MOST = 5;

interface Spelled {
  subject: string;
  head: string;
  text: string;
  files: readonly string[];
}

function spelled(one: Begun): Spelled {
  if (isHanded(one)) {
    const subject = one.opened?.subject ?? '';
    return { subject, head: `${subject} ${one.by}`, text: '', files: [] };
  }
  const { subject, reference, recipients, text, files } = one.value;
  const people = recipients.map(({ name, address }) => `${name} ${address}`).join(' ');
  return { subject, head: `${subject} ${reference} ${people}`, text, files: files.map(({ name }) => name) };
}

export function FoundDrafts({ query }: { query: string }) {
  const now = useNow();
  const { data = [] } = useBegun();
  const words = wordsAsked(query);
  if (!enoughLetters(words)) return null;
  const found = data
    .map((one) => ({ one, said: spelled(one) }))
    .filter(({ said: { head, text, files } }) => holdsAll(`${head} ${files.join(' ')} ${text}`, words))
    .slice(0, MOST);
  if (found.length === 0) return null;
  return (
    <ListSection title="Drafts">
      <Lines items={found}>
        {({ one, said: { subject, head, text, files } }, last) => {
          const place = holdsAll(head, words) ? undefined : excerptOf({ text, files }, words);
          return (
            <BegunLine
              key={one.id}
              one={one}
              now={now}
              last={last}
              {...(subject === '' ? {} : { title: <Marked text={subject} marks={marksIn(subject, words)} /> })}
            >
              {place === undefined ? null : (
                <Text kind="small" numberOfLines={2}>
                  <Marked text={place.text} marks={place.marks} />
                </Text>
              )}
            </BegunLine>
          );
        }}
      </Lines>
    </ListSection>
  );
}
