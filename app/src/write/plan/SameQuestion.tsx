/** One question for everybody who is asked one, typed once. */
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { Button, Field, Panel, Row, space, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { type PlanActions } from './plan-actions';

export function SameQuestion({ lines, actions }: { lines: readonly PlanLine[]; actions: PlanActions }) {
  const [open, setOpen] = useState(false);
  const [question, setQuestion] = useState('');
  const [answer, setAnswer] = useState('');
  if (!open)
    return (
      <Row>
        <Button kind="quiet" label={`One question for all ${lines.length}`} onPress={() => setOpen(true)} />
      </Row>
    );
  const use = (): void => {
    for (const { recipient } of lines) actions.setQuestion(recipient.address, { question: question.trim(), answer });
    setOpen(false);
  };
  return (
    <Panel style={styles.panel}>
      <Stack style={styles.fields}>
        <Text kind="small" tone="soft">
          Something all of them know and nobody else, such as a number on a paper they have. Whoever is asked another
          question already gets this one instead.
        </Text>
        <Field
          label={`Question for all ${lines.length}`}
          value={question}
          onChangeText={setQuestion}
          maxLength={200}
          autoFocus
        />
        <Field
          label="Answer of all"
          value={answer}
          onChangeText={setAnswer}
          maxLength={100}
          autoComplete="off"
          hint="Capitals, spaces and accents don’t count."
        />
        <Row>
          <Button
            label="Ask all of them this"
            onPress={use}
            disabled={question.trim() === '' || answer.trim() === ''}
          />
          <Button kind="quiet" label="Leave it" onPress={() => setOpen(false)} />
        </Row>
      </Stack>
    </Panel>
  );
}

const styles = StyleSheet.create({ panel: { padding: space.m }, fields: { gap: space.s } });
