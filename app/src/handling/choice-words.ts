/** How somebody chose to be written to, and what became of it in a plan. */
import { type WishStands } from '@under-lock/core/outgoing/delivery-plan';
import { type ChoiceWay } from '@under-lock/core/ways/chose';

export const choiceWords: Record<ChoiceWay, string> = {
  room: 'In the reading room',
  file: 'As a locked file under a password of theirs',
  certificate: 'To their certificate',
  openpgp: 'To their OpenPGP key',
};

export const wishSentences: Record<WishStands, (chose: string) => string> = {
  followed: (chose) => `They chose this: ${chose}.`,
  'too-weak': (chose) =>
    `They chose it ${chose}, after a lesser check than this message asks; so it goes as the handling says.`,
  barred: (chose) => `They chose it ${chose}; this message can’t go that way.`,
  otherwise: (chose) => `They chose it ${chose}; you chose otherwise for this message.`,
};
