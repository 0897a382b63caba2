/** Which files speak of somebody who does not get them. Asked in the thread that looked into them, and nowhere else. */
import { type ToDoubt } from '@under-lock/core/doubts/doubts';
import { type Correspondent } from '@under-lock/core/people/address';
import { useEffect, useMemo, useState } from 'react';
import { scanDoor } from '../../threads/scan/door';
import { type SeenInDraft } from '../seen/useSeen';

const NOBODY: ReadonlyMap<string, Correspondent> = new Map();

/** By the files' ids. @param lookedInto Parted by spaces. */
async function others(
  lookedInto: string,
  known: readonly Correspondent[],
  recipients: readonly Correspondent[],
  mailDomain: string,
): Promise<ReadonlyMap<string, Correspondent>> {
  const ids = lookedInto.split(' ');
  const whom = recipients.map(({ name, address }) => ({ name, address }));
  const found = await scanDoor().others(ids, known, whom, mailDomain);
  return new Map(found.flatMap((of, index) => (of === undefined ? [] : [[ids[index]!, of] as const])));
}

export function useSpokenOf(
  { files }: Pick<SeenInDraft, 'files'>,
  known: readonly Correspondent[],
  recipients: readonly Correspondent[],
  mailDomain: string | undefined,
): ToDoubt['spokenOf'] {
  const [spokenOf, setSpokenOf] = useState(NOBODY);
  const lookedInto = files.flatMap(({ file, state }) => (state?.at === 'seen' ? [file.blobId] : [])).join(' ');
  useEffect(() => {
    if (lookedInto === '' || recipients.length === 0 || mailDomain === undefined) {
      setSpokenOf(NOBODY);
      return undefined;
    }
    let over = false;
    void others(lookedInto, known, recipients, mailDomain).then((found) => {
      if (!over) setSpokenOf(found);
    });
    return () => {
      over = true;
    };
  }, [lookedInto, known, recipients, mailDomain]);
  const names = files.map(({ file }) => `${file.blobId} ${file.name}`).join('\n');
  return useMemo(
    () =>
      names.split('\n').flatMap((line) => {
        const of = spokenOf.get(line.slice(0, line.indexOf(' ')));
        return of === undefined ? [] : [{ file: line.slice(line.indexOf(' ') + 1), of }];
      }),
    [names, spokenOf],
  );
}
