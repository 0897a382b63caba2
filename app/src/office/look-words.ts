import { PART_RULES, type NoticePart, type Placeholder, type TextProblem } from '@under-lock/core/notice/look';
import { listed } from '../handling/words';

export const partWords: Record<NoticePart, { label: string; hint: string }> = {
  subject: { label: 'Subject', hint: 'The first thing a reader judges it by: name who wrote.' },
  greeting: { label: 'Greeting', hint: 'Somebody without a name is greeted in our words.' },
  opening: {
    label: 'Opening',
    hint: 'Who wrote, and that the message is held. Until when and what is asked follows by itself, then the link.',
  },
  doubt: {
    label: 'When it looks odd',
    hint: 'What to do for whoever did not expect it: best a number they know already.',
  },
  foot: { label: 'Foot', hint: 'The office, and what must stand under its mail.' },
  outer: {
    label: 'Outside of encrypted mail',
    hint: 'Stands in the place of the subject, where everybody on its way reads it. Say nothing of what is inside.',
  },
};

export const placeholderWords: Record<Placeholder, string> = {
  sender: 'the sender’s name',
  address: 'their address',
  recipient: 'the reader’s name',
  office: 'the office',
};
const braced = (name: string): string => `{${name}}`;

/** "May name {sender} (the sender’s name) and {office} (the office)." */
export const mayName = (part: NoticePart): string =>
  `May name ${listed(
    PART_RULES[part].may.map((name) => `${braced(name)} (${placeholderWords[name]})`),
    'and',
  )}.`;

export function textProblemWords(problem: TextProblem, part: NoticePart): string {
  switch (problem.code) {
    case 'empty':
      return 'Write something; a notice needs this part.';
    case 'too-long':
      return `At most ${problem.limit} characters.`;
    case 'several-lines':
      return 'Control characters can’t stand here, and line breaks only where there is more than one line.';
    case 'unknown-placeholder':
      return `${braced(problem.name)} is nothing we can fill in. ${mayName(part)}`;
    case 'placeholder-elsewhere':
      return `${braced(problem.name)} can’t stand in this part. ${mayName(part)}`;
    case 'placeholder-missing':
      return `${braced(problem.name)} is missing: ${placeholderWords[problem.name]}, or the reader can’t tell whom it is from.`;
    case 'loose-brace':
      return 'A brace stands alone. Names stand between two: {sender}.';
    case 'link':
      return 'No links and no web addresses: a notice has one link, and readers are told to look for no other.';
  }
}
