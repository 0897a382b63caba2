import { RIGHTS } from '@under-lock/core/handling/handling';
import { type Loosenable, type PresetTerms } from '@under-lock/core/handling/preset';
import { audienceWords, checkWords, closingWords, listed, rightWords } from './words';

export const loosenWords: Record<Loosenable, { label: string; detail: string }> = {
  closing: { label: 'A later closing date', detail: 'Up to the office’s own maximum' },
  identity: { label: 'A weaker identity check', detail: 'Another way for the passcode, or no question besides' },
  rights: { label: 'More for the reader', detail: 'Rights that are off here, and going without the watermark' },
};

/** What a preset does, in one line. */
export function presetSentence({
  closing,
  check,
  question,
  rights,
  watermark,
  copies,
  clear,
  textOpen,
  audience,
  receipt,
  confirm,
  choose,
  remindHours,
  mayLoosen,
}: PresetTerms): string {
  const may = RIGHTS.filter((right) => rights[right]).map((right) => rightWords[right]);
  const loosen = (Object.keys(loosenWords) as Loosenable[])
    .filter((part) => mayLoosen[part])
    .map((part) => loosenWords[part].label.toLowerCase());
  return [
    `${audienceWords[audience]}; closes at the ${closingWords[closing.kind].toLowerCase()}`.replace(
      'at the in two weeks',
      'in two weeks',
    ),
    `${checkWords[check].toLowerCase()}${question && check !== 'question' ? ' and a question' : ''}`,
    may.length === 0 ? 'look only' : `may ${listed(may, 'and')}`,
    ...(watermark ? ['watermark'] : []),
    ...(copies ? ['a copy of their own where they have a certificate, an OpenPGP key or an agreed password'] : []),
    ...(clear ? ['leaves signed and readable'] : []),
    ...(textOpen && !clear ? ['the text may stay readable beside locked files'] : []),
    ...(receipt ? ['receipt to the sender'] : []),
    ...(confirm === true ? ['readers confirm having read it'] : []),
    ...(choose === true ? ['readers may choose how we write to them'] : []),
    ...(remindHours > 0 ? [`reminder ${remindHours} h before closing`] : []),
    loosen.length === 0 ? 'workers may only tighten' : `workers may choose ${listed(loosen, 'and')}`,
  ].join(' · ');
}
