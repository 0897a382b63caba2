import { type Handling, RIGHTS } from '@under-lock/core/handling/handling';
import { words } from './words/words';

/** What a reader may do and what not, in sentences. */
export function rightsSentences({ rights, watermark }: Pick<Handling, 'rights' | 'watermark'>): string[] {
  const may = RIGHTS.filter((right) => rights[right]).map((right) => words.rights[right]);
  const off = RIGHTS.filter((right) => !rights[right]).map((right) => words.rights[right]);
  return [
    may.length === 0 ? words.mayOnlyLook : words.mayDo(may),
    ...(off.length === 0 || may.length === 0 ? [] : [words.switchedOff(off)]),
    ...(watermark ? [words.watermarked] : []),
  ];
}
