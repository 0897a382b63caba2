import { COVER_PLACEHOLDERS, COVER_RULES, type CoverPlaceholder } from '@under-lock/core/locks/file/cover-rules';
import { type FileRulesProblem } from '@under-lock/core/locks/file/rules';
import { type TextProblem } from '@under-lock/core/notice/look';
import { LANGUAGES } from '@under-lock/core/language';
import { listed } from '../handling/words';
import { languageWords } from '../people/words';

const placeholderWords: Record<CoverPlaceholder, string> = {
  recipient: 'the reader’s name',
  sender: 'the sender’s name',
  address: 'their address',
  office: 'the office',
  file: 'the file’s name',
  password: 'how its password comes',
  open: 'how it is opened',
};
const braced = (name: string): string => `{${name}}`;

/** "May name {sender} (the sender’s name) …". */
export const coverMayName = `May name ${listed(
  COVER_PLACEHOLDERS.map((name) => `${braced(name)} (${placeholderWords[name]})`),
  'and',
)}; ${listed(COVER_RULES.must.map(braced), 'and')} must be there.`;

export function coverProblemWords(problem: TextProblem<CoverPlaceholder>): string {
  switch (problem.code) {
    case 'empty':
      return 'Write something; a locked file needs a note.';
    case 'too-long':
      return `At most ${problem.limit} characters.`;
    case 'several-lines':
      return 'Control characters can’t stand here.';
    case 'unknown-placeholder':
    case 'placeholder-elsewhere':
      return `${braced(problem.name)} is nothing we can fill in. ${coverMayName}`;
    case 'placeholder-missing':
      return `${braced(problem.name)} is missing: ${placeholderWords[problem.name]}, or nobody could open the file.`;
    case 'loose-brace':
      return 'A brace stands alone. Names stand between two: {file}.';
    case 'link':
      return 'No links and no web addresses: readers are told to look for none.';
  }
}

export function rulesProblemWords(problem: FileRulesProblem): string {
  switch (problem.code) {
    case 'template':
      return `Something is wrong with the note in ${languageWords[LANGUAGES.find((one) => one === problem.language)!]}.`;
    case 'exception':
      return problem.whom.trim() === ''
        ? 'An exception is for nobody yet: name an address or a domain.'
        : `“${problem.whom}” is neither an address nor a domain.`;
    case 'exception-twice':
      return `There are two exceptions for ${problem.whom}.`;
    case 'stored-type':
      return `“${problem.type}” can’t be the ending of a file’s name: up to eight letters and digits, with a blank before the next.`;
    case 'legacy-not-allowed':
      return 'The legacy cipher is chosen somewhere, and not allowed.';
  }
}
