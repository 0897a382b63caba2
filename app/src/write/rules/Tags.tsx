/** Under the subject: tags that are being typed, and what is nearly one. */
import { type NearTag, nearTags, offeredTags, withOffered, withTag } from '@under-lock/core/rules/tags';
import { Button, Row, space, Text } from '@under-lock/ui';
import { StyleSheet, View } from 'react-native';
import { type Writing } from '../useWriting';

/** So that it is asked once. */
const asLeft = ({ tag, written }: NearTag): string => `tag ${tag.id} ${written}`.slice(0, 100);

export function Tags({ draft, policy, set, desk }: Pick<Writing, 'draft' | 'policy' | 'set' | 'desk'>) {
  const { subject, text, passedOver = [] } = draft;
  const offered = offeredTags(policy.tags, subject).slice(0, 3);
  const near =
    offered.length > 0
      ? []
      : nearTags(policy.tags, { subject, text }).filter((one) => !passedOver.includes(asLeft(one)));
  if (offered.length + near.length === 0) return null;
  return (
    <View style={styles.tags}>
      {offered.length === 0 ? null : (
        <Row>
          {offered.map((tag) => (
            <Button
              key={tag.id}
              kind="quiet"
              label={tag.word}
              describe={`Write the tag ${tag.word}`}
              onPress={() => set({ subject: withOffered(subject, tag) })}
            />
          ))}
        </Row>
      )}
      {near.map((one) => (
        <View key={one.tag.id} role="group" aria-label={`Is it the tag ${one.tag.word}?`}>
          <Text kind="small" tone="amber">
            {`▲ “${one.written}” is nearly the tag “${one.tag.word}”.`}
          </Text>
          <Row>
            {one.tag.place === 'subject' ? (
              <Button
                label="Put it right"
                describe={`Put it right: ${one.tag.word}`}
                onPress={() => set({ subject: withTag(subject, one) })}
              />
            ) : null}
            <Button
              kind="quiet"
              label="It is no tag"
              describe={`It is no tag: ${one.written}`}
              onPress={() =>
                desk.change((before) => ({ ...before, passedOver: [...(before.passedOver ?? []), asLeft(one)] }))
              }
            />
          </Row>
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({ tags: { paddingVertical: space.xs, gap: space.xs } });
