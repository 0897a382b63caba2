/** How somebody gets locked files: container, cipher, what is inside, how it is called. */
import {
  CONTAINERS,
  type FileWay,
  isExtension,
  MESSAGE_FORMS,
  NAMINGS,
  OWN_EXTENSION,
  SCOPES,
} from '@under-lock/core/ways/file-way';
import { ciphersOffered } from '@under-lock/core/zip/cipher';
import { Check, Choice, Field, space, Stack } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import {
  cipherDetails,
  cipherWords,
  containerDetails,
  containerWords,
  extensionProblem,
  formDetails,
  formWords,
  namingWords,
  scopeDetails,
  scopeWords,
} from './words';

interface InsideProps {
  way: FileWay;
  legacyAllowed: boolean;
  onSet: (change: Partial<FileWay>) => void;
}

/** In what it is locked and how, and what lies inside. */
function Inside({ way, legacyAllowed, onSet }: InsideProps) {
  return (
    <>
      <Choice
        label="Locked in"
        value={way.container}
        onChange={(container) => onSet({ container })}
        options={CONTAINERS.map((value) => ({ value, label: containerWords[value], detail: containerDetails[value] }))}
      />
      {way.container !== 'zip' ? null : (
        <Choice
          label="Cipher"
          value={way.cipher}
          onChange={(cipher) => onSet({ cipher })}
          options={ciphersOffered(way.cipher, legacyAllowed).map((value) => ({
            value,
            label: cipherWords[value],
            detail: cipherDetails[value],
          }))}
        />
      )}
      <Choice
        label="What is locked"
        value={way.scope}
        onChange={(scope) => onSet({ scope })}
        options={SCOPES.map((value) => ({ value, label: scopeWords[value], detail: scopeDetails[value] }))}
      />
      {way.container !== 'zip' ? null : (
        <>
          <Choice
            label="The message inside is"
            value={way.form}
            onChange={(form) => onSet({ form })}
            options={MESSAGE_FORMS.map((value) => ({ value, label: formWords[value], detail: formDetails[value] }))}
          />
          <Check
            label="Hide the names of the files"
            detail="They are packed once more inside, so that nobody on the way can read what they are called"
            value={way.hideNames}
            onChange={(hideNames) => onSet({ hideNames })}
          />
        </>
      )}
    </>
  );
}

export function FileWayForm({
  way,
  legacyAllowed,
  onChange,
}: {
  way: FileWay;
  legacyAllowed: boolean;
  onChange: (way: FileWay) => void;
}) {
  const [extension, setExtension] = useState(way.extension ?? '');
  const set = (change: Partial<FileWay>): void => onChange({ ...way, ...change });
  const takeExtension = (typed: string): void => {
    const next = typed.trim().toLowerCase().replace(/^\./, '');
    setExtension(next);
    const { extension: _, ...rest } = way;
    if (next === '' || next === OWN_EXTENSION[way.container]) onChange(rest);
    else if (isExtension(next)) onChange({ ...rest, extension: next });
  };
  return (
    <Stack style={styles.form}>
      <Inside way={way} legacyAllowed={legacyAllowed} onSet={set} />
      <Choice
        label="The locked file is called"
        value={way.naming}
        onChange={(naming) => set({ naming })}
        options={NAMINGS.map((value) => ({ value, label: namingWords[value] }))}
      />
      {way.naming === 'fixed' ? (
        <Field
          label="Name"
          value={way.fixedName}
          onChangeText={(fixedName) => set({ fixedName: fixedName.slice(0, 60) })}
          hint="Without its ending. It can be read by anybody on its way."
          maxLength={60}
        />
      ) : null}
      <Field
        label="Another ending"
        value={extension}
        onChangeText={takeExtension}
        code
        autoCapitalize="none"
        maxLength={9}
        hint={`For mail gateways that refuse .${OWN_EXTENSION[way.container]}; the note then says what to do. Empty for the usual one.`}
        error={extensionProblem(extension)}
      />
      <Check
        label="A new password for each message"
        detail="Instead of one for all"
        value={way.eachTime}
        onChange={(eachTime) => set({ eachTime })}
      />
    </Stack>
  );
}

const styles = StyleSheet.create({ form: { gap: space.m } });
