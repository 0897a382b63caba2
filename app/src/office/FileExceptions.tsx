/**
 * People and domains that get locked files otherwise: another container, another ending for their gateway, a largest
 * size.
 */
import { type FileException } from '@under-lock/core/locks/file/rules';
import { CONTAINERS, isExtension } from '@under-lock/core/ways/file-way';
import { ciphersOffered } from '@under-lock/core/zip/cipher';
import { Button, Choice, Empty, Field, Line, Panel, Row, Section, space, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { cipherWords, containerWords, extensionProblem } from '../passwords/words';

interface Props {
  exceptions: readonly FileException[];
  legacyAllowed: boolean;
  onChange: (exceptions: FileException[]) => void;
}

const MEGABYTE = 1_000_000;
const USUAL = 'usual';

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

/** With a part changed; undefined takes it away. */
type SetPart = <Part extends keyof FileException>(part: Part, value: FileException[Part]) => void;

const sizeOf = (typed: string): number | undefined =>
  /^\d+(?:[.,]\d+)?$/.test(typed) ? Math.round(Number(typed.replace(',', '.')) * MEGABYTE) : undefined;
const isSize = (size: number | undefined): boolean => size !== undefined && size >= 100_000 && size <= 1_000 * MEGABYTE;

interface WaysProps {
  exception: FileException;
  about: string;
  legacyAllowed: boolean;
  onSet: SetPart;
}

/** In what they are locked, and how. */
function Ways({ exception, about, legacyAllowed, onSet }: WaysProps) {
  return (
    <>
      <Choice
        row
        label={`Locked in, for ${about}`}
        value={exception.container ?? USUAL}
        onChange={(value) => onSet('container', value === USUAL ? undefined : value)}
        options={[
          { value: USUAL, label: 'As usual' },
          ...CONTAINERS.map((value) => ({ value, label: containerWords[value] })),
        ]}
      />
      <Choice
        row
        label={`Cipher of a ZIP, for ${about}`}
        value={exception.cipher ?? USUAL}
        onChange={(value) => onSet('cipher', value === USUAL ? undefined : value)}
        options={[
          { value: USUAL, label: 'As usual' },
          ...ciphersOffered(exception.cipher, legacyAllowed).map((value) => ({ value, label: cipherWords[value] })),
        ]}
      />
    </>
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
  const [extension, setExtension] = useState(exception.extension ?? '');
  const [largest, setLargest] = useState(exception.largest === undefined ? '' : String(exception.largest / MEGABYTE));
  const about = exception.whom.trim() === '' ? `exception ${number}` : exception.whom.trim();
  const set: SetPart = (part, value) => {
    const { [part]: _, ...rest } = exception;
    onChange((value === undefined ? rest : { ...rest, [part]: value }) as FileException);
  };
  const takeExtension = (typed: string): void => {
    const next = typed.trim().toLowerCase().replace(/^\./, '');
    setExtension(next);
    if (next === '' || isExtension(next)) set('extension', next === '' ? undefined : next);
  };
  const takeLargest = (typed: string): void => {
    const next = typed.trim();
    setLargest(next);
    if (next === '' || isSize(sizeOf(next))) set('largest', next === '' ? undefined : sizeOf(next));
  };
  return (
    <Stack style={styles.form}>
      <Field
        label={`Address or domain ${number}`}
        value={exception.whom}
        onChangeText={(whom) => set('whom', whom)}
        autoCapitalize="none"
        autoComplete="off"
        maxLength={254}
      />
      <Ways exception={exception} about={about} legacyAllowed={legacyAllowed} onSet={set} />
      <Field
        label={`Another ending, for ${about}`}
        value={extension}
        onChangeText={takeExtension}
        code
        autoCapitalize="none"
        maxLength={9}
        error={extensionProblem(extension)}
      />
      <Field
        label={`Largest size in MB, for ${about}`}
        value={largest}
        onChangeText={takeLargest}
        inputMode="decimal"
        maxLength={7}
        hint="Of all files together, as their mail gateway takes it. Empty for the office’s own limit."
        error={largest === '' || isSize(sizeOf(largest)) ? undefined : 'A number from 0.1 to 1000.'}
      />
      <Row>
        <Button kind="stop" label="Remove it" describe={`Remove it: the exception for ${about}`} onPress={onRemove} />
      </Row>
    </Stack>
  );
}

const styles = StyleSheet.create({ form: { gap: space.s } });
