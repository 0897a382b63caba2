/** Which files speak of somebody who does not get them. Asked in the thread that looked into them, and nowhere else. */
import { type Correspondent } from '@under-lock/core/people/address';
import { useEffect, useState } from 'react';
import { scanDoor } from '../../threads/scan/door';
import { type SeenInDraft } from '../seen/useSeen';

const NOBODY: ReadonlyMap<string, Correspondent> = new Map();

async function others(
  ids: readonly string[],
  known: readonly Correspondent[],
  recipients: readonly Correspondent[],
  mailDomain: string,
): Promise<ReadonlyMap<string, Correspondent>> {
  const whom = recipients.map(({ name, address }) => ({ name, address }));
  const found = await scanDoor().others(ids, known, whom, mailDomain);
  return new Map(found.flatMap((of, index) => (of === undefined ? [] : [[ids[index]!, of] as const])));
}

/** By the files' ids. */
export function useSpokenOf(
  { files }: Pick<SeenInDraft, 'files'>,
  known: readonly Correspondent[],
  recipients: readonly Correspondent[],
  mailDomain: string | undefined,
): ReadonlyMap<string, Correspondent> {
  const [spokenOf, setSpokenOf] = useState(NOBODY);
  const lookedInto = files.flatMap(({ file, state }) => (state?.at === 'seen' ? [file.blobId] : [])).join(' ');
  useEffect(() => {
    if (lookedInto === '' || recipients.length === 0 || mailDomain === undefined) {
      setSpokenOf(NOBODY);
      return undefined;
    }
    let over = false;
    void others(lookedInto.split(' '), known, recipients, mailDomain).then((found) => {
      if (!over) setSpokenOf(found);
    });
    return () => {
      over = true;
    };
  }, [lookedInto, known, recipients, mailDomain]);
  return spokenOf;
}
