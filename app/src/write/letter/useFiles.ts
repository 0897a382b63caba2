/** Files on their way into a draft: sealed and kept at once, with progress that is true. */
import { safeFileName } from '@under-lock/core/file-name';
import { type DraftFile } from '@under-lock/core/outgoing/draft';
import { sizeInWords } from '@under-lock/core/when';
import { useState } from 'react';
import { problemWords } from '../../problem-words';
import { callback, door } from '../../threads/main/door';
import { Watched } from '../../watched';
import { useSteady } from '../useSteady';
import { forgetChosen, noteChosen } from '../seen/useSeen';
import { useSame } from '../useSame';

export interface Coming {
  blobId: string;
  name: string;
  size: number;
  /** The part of it that is kept: watched by its own line alone, not drawn with the page. */
  done: Watched<number>;
  error?: string;
  file: File;
}

const MAX_FILES = 100;

/** Those of the chosen for which there is room beside what is there already, and the names of the others. */
function whatFits(
  chosen: readonly File[],
  present: readonly { size: number }[],
  maxBytes: number,
): { fitting: File[]; tooLarge: string[] } {
  let sum = present.reduce((total, { size }) => total + size, 0);
  const fitting: File[] = [];
  const tooLarge: string[] = [];
  for (const file of chosen) {
    if (sum + file.size > maxBytes || present.length + fitting.length >= MAX_FILES) tooLarge.push(file.name);
    else {
      sum += file.size;
      fitting.push(file);
    }
  }
  return { fitting, tooLarge };
}

function starting(file: File): Coming {
  const blobId = crypto.randomUUID();
  noteChosen(blobId, file);
  return { blobId, name: safeFileName(file.name), size: file.size, done: new Watched(0), file };
}

async function forget(blobId: string): Promise<void> {
  forgetChosen(blobId);
  await door()
    .message.removeFile(blobId)
    .catch(() => undefined);
}

export function useFiles(
  files: readonly DraftFile[],
  maxBytes: number,
  change: (edit: (files: DraftFile[]) => DraftFile[]) => void,
) {
  const [coming, setComing] = useState<Coming[]>([]);
  const [refused, setRefused] = useState<string | undefined>();
  const update = (blobId: string, next: Partial<Coming>): void =>
    setComing((list) => list.map((one) => (one.blobId === blobId ? { ...one, ...next } : one)));
  const remove = (blobId: string): void => setComing((list) => list.filter((one) => one.blobId !== blobId));

  const bring = async ({ blobId, file, done }: Pick<Coming, 'blobId' | 'file' | 'done'>): Promise<void> => {
    try {
      const key = await door().message.makeKey();
      await door().message.addFile(
        file,
        blobId,
        key,
        callback((part: number) => done.set(part)),
      );
      change((list) => [...list, { blobId, name: safeFileName(file.name), type: file.type, size: file.size, key }]);
      remove(blobId);
    } catch (error) {
      if (error instanceof Error && error.name === 'AbortError') remove(blobId);
      else update(blobId, { error: problemWords(error) });
    }
  };
  const add = (chosen: File[]): void => {
    const { fitting, tooLarge } = whatFits(chosen, [...files, ...coming], maxBytes);
    setRefused(
      tooLarge.length === 0
        ? undefined
        : `${tooLarge.join(', ')} ${tooLarge.length === 1 ? 'does' : 'do'} not fit: a message holds ${sizeInWords(maxBytes)}. Make it smaller, or send it in a message of its own.`,
    );
    const started = fitting.map(starting);
    setComing((list) => [...list, ...started]);
    for (const one of started) void bring(one);
  };
  const cancel = (blobId: string): void => {
    remove(blobId);
    void forget(blobId);
  };
  const acts = useSteady({ add, bring, cancel });
  return useSame({ coming, refused, add: acts.add, bring: acts.bring, cancel: acts.cancel });
}
