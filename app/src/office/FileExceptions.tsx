/**
 * People and domains that get locked files otherwise: another container, another ending for their gateway, a largest
 * size.
 */
import { type FileException } from '@under-lock/core/locks/file/rules';
import { Button, Empty, Field, Line, Panel, Row, Section, space, Stack, Text } from '@under-lock/ui';
import { StyleSheet } from 'react-native';
import { ExceptionFields } from './ExceptionFields';

interface Props {
  exceptions: readonly FileException[];
  legacyAllowed: boolean;
  onChange: (exceptions: FileException[]) => void;
}

export function FileExceptions({ exceptions, legacyAllowed, onChange }: Props) {
  return (
    <Section title="Exceptions" aside={String(exceptions.length)}>
      <Text kind="small" tone="soft">
        For a whole domain or one address; an address says more than its domain.
      </Text>
      <Panel>
        {exceptions.length === 0 ? (
          <Empty title="None">Everybody gets locked files the usual way.</Empty>
        ) : (
          exceptions.map((exception, index) => (
            <Line key={index} last={index === exceptions.length - 1}>
              <ExceptionForm
                exception={exception}
                number={index + 1}
                legacyAllowed={legacyAllowed}
                onChange={(next) => onChange(exceptions.map((one, at) => (at === index ? next : one)))}
                onRemove={() => onChange(exceptions.filter((_, at) => at !== index))}
              />
            </Line>
          ))
        )}
      </Panel>
      <Row>
        <Button
          label="Add an exception"
          onPress={() => onChange([...exceptions, { whom: '' }])}
          disabled={exceptions.length >= 200}
        />
      </Row>
    </Section>
  );
}

function ExceptionForm({
  exception,
  number,
  legacyAllowed,
  onChange,
  onRemove,
}: {
  exception: FileException;
  number: number;
  legacyAllowed: boolean;
  onChange: (exception: FileException) => void;
  onRemove: () => void;
}) {
  const about = exception.whom.trim() === '' ? `exception ${number}` : exception.whom.trim();
  return (
    <Stack style={styles.form}>
      <Field
        label={`Address or domain ${number}`}
        value={exception.whom}
        onChangeText={(whom) => onChange({ ...exception, whom })}
        autoCapitalize="none"
        autoComplete="off"
        maxLength={254}
      />
      <ExceptionFields exception={exception} about={about} legacyAllowed={legacyAllowed} onChange={onChange} />
      <Row>
        <Button kind="stop" label="Remove it" describe={`Remove it: the exception for ${about}`} onPress={onRemove} />
      </Row>
    </Stack>
  );
}

const styles = StyleSheet.create({ form: { gap: space.s } });
