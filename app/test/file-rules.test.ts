/** What an administrator is told about the rules for locked files. */
import { coverProblem } from '@under-lock/core/locks/file/cover-rules';
import { fileRulesProblem, OUR_RULES } from '@under-lock/core/locks/file/rules';
import { coverMayName, coverProblemWords, rulesProblemWords } from '../src/office/file-rules-words';

test.each([
  ['', /needs a note/],
  ['x'.repeat(3_000), /At most 2000/],
  ['a\u0007', /Control characters/],
  ['{who}', /nothing we can fill in/],
  ['{sender} {file} {open}', /\{password\} is missing: how its password comes/],
  ['{sender} {file} {open} {password} }', /brace stands alone/],
  ['{sender} {file} {open} {password} www.x.example', /No links/],
])('%#: the note is refused with a sentence', (text, said) =>
  expect(coverProblemWords(coverProblem(text)!)).toMatch(said),
);

test.each([
  [{ exceptions: [{ whom: ' ' }] }, /for nobody yet/],
  [{ exceptions: [{ whom: 'x y' }] }, /neither an address nor a domain/],
  [{ exceptions: [{ whom: 'a.example' }, { whom: 'A.example' }] }, /two exceptions/],
  [{ templates: { pt: 'x' } }, /the note in Portugu/],
  [{ usual: { ...OUR_RULES.usual, cipher: 'legacy' as const } }, /not allowed/],
])('%#: rules are refused with a sentence', (change, said) =>
  expect(rulesProblemWords(fileRulesProblem({ ...OUR_RULES, ...change })!)).toMatch(said),
);

test('what may be named is said with what it stands for', () =>
  expect(coverMayName).toContain('{open} (how it is opened)'));
