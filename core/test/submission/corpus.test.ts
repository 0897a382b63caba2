/**
 * Mail that other people collected: each becomes a draft, and every word that their reader finds in its text is in ours,
 * or in a file of it.
 */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Bytes } from '../../src/bytes';
import { decodeText } from '../../src/message/charset';
import { makeKey } from '../../src/outgoing/split';
import { draftOfMail } from '../../src/submission/draft';
import { COLLECTED, collectedMails } from '../collected';

const mails = collectedMails();

const JUDGE = `
import email, email.policy, json, sys
said = {}
for name in json.load(sys.stdin):
    with open(sys.argv[1] + '/' + name, 'rb') as file:
        mail = email.message_from_binary_file(file, policy=email.policy.default)
    texts = [part.get_content() for part in mail.walk() if part.get_content_maintype() == 'text']
    said[name] = {'subject': str(mail['subject'] or ''), 'texts': texts}
print(json.dumps(said))
`;
const judged = JSON.parse(
  execFileSync('python3', ['-c', JUDGE, COLLECTED], { input: JSON.stringify(mails), encoding: 'utf8' }),
) as Record<string, { subject: string; texts: string[] }>;

const wordsOf = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];
const inOneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();

async function read(name: string) {
  const files: string[] = [];
  const { draft, onlyPlain } = await draftOfMail(
    new Uint8Array(readFileSync(join(COLLECTED, name))),
    { envelope: ['pell.anders@postbox.example'], account: { address: 'maren.oduya@larkmoor.example', further: [] } },
    async ({ bytes, ...file }) => {
      files.push(decodeText(bytes as Bytes, undefined));
      return { blobId: 'b', key: makeKey(), size: bytes.length, ...file };
    },
  );
  return { draft, words: new Set([draft.text, draft.html, onlyPlain, ...files].flatMap(wordsOf)) };
}

test('there are some', () => expect(mails.length).toBeGreaterThan(40));

test.each(mails)('%s', async (name) => {
  const { subject, texts } = judged[name]!;
  const { draft, words } = await read(name);
  expect(inOneLine(draft.subject)).toBe(inOneLine(subject));
  expect([...new Set(texts.flatMap(wordsOf))].filter((word) => !words.has(word))).toEqual([]);
});
