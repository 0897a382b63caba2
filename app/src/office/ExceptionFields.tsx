/** What is otherwise for one address or domain: the container of locked files, their ending, the largest mail. */
import { type FileException } from '@under-lock/core/locks/file/rules';
import { CONTAINERS, isExtension } from '@under-lock/core/ways/file-way';
import { ciphersOffered } from '@under-lock/core/zip/cipher';
import { Choice, Field } from '@under-lock/ui';
import { useState } from 'react';
import { cipherWords, containerWords, extensionProblem } from '../passwords/words';

interface Props {
  exception: FileException;
  /** Whom it is for, as the fields' names say it. */
  about: string;
  legacyAllowed: boolean;
  onChange: (exception: FileException) => void;
}

/** With a part changed; undefined takes it away. */
type SetPart = <Part extends keyof FileException>(part: Part, value: FileException[Part]) => void;

const MEGABYTE = 1_000_000;
const USUAL = 'usual';

const sizeOf = (typed: string): number | undefined =>
  /^\d+(?:[.,]\d+)?$/.test(typed) ? Math.round(Number(typed.replace(',', '.')) * MEGABYTE) : undefined;
const isSize = (size: number | undefined): boolean => size !== undefined && size >= 100_000 && size <= 1_000 * MEGABYTE;

/** In what their files are locked, and how. */
function Ways({ exception, about, legacyAllowed, onSet }: Omit<Props, 'onChange'> & { onSet: SetPart }) {
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

export function ExceptionFields({ exception, about, legacyAllowed, onChange }: Props) {
  const [extension, setExtension] = useState(exception.extension ?? '');
  const [largest, setLargest] = useState(exception.largest === undefined ? '' : String(exception.largest / MEGABYTE));
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
    <>
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
        hint="Of all files together, as their mail gateway takes it. Whatever is larger goes along with no mail to them, whichever the lock. Empty for the office’s own limit."
        error={largest === '' || isSize(sizeOf(largest)) ? undefined : 'A number from 0.1 to 1000.'}
      />
    </>
  );
}
