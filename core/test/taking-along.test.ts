/** What a registered reader takes along opens in other programs, and holds nothing that a table would run. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type MessageContent } from '../src/message/content';
import { archive } from '../src/taking-along/archive';

const at = new Date('2026-11-20T10:00:00Z');
const message = (subject: string): MessageContent => ({
  messageId: `${subject.length}@postbox.example`,
  from: { name: 'Joris Wend', address: 'joris@postbox.example' },
  to: [{ name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' }],
  cc: [],
  subject,
  date: at,
  reference: '',
  text: 'From December I live on the north pier.',
  html: '',
  files: [],
});

test('a ZIP with the account, a table, and every message they wrote under a name of its own', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-along-'));
  const bytes = await archive({
    account: { address: 'joris@postbox.example', name: 'Jóris', language: 'pt', office: 'Larkmoor Ferries' },
    held: [
      {
        subject: '=HYPERLINK("http://x")',
        from: 'Maren Oduya <maren.oduya@larkmoor.example>',
        arrivedAt: at,
        closesAt: at,
        state: 'held',
        reference: 'CR-1',
      },
    ],
    written: [
      message('My new address'),
      message('My new address'),
      message('../../etc/passwd'),
      message('x'.repeat(300)),
    ],
    madeAt: at,
  });
  writeFileSync(join(folder, 'all.zip'), bytes);
  execFileSync('7zz', ['x', '-y', `-o${folder}`, join(folder, 'all.zip')], { stdio: 'pipe' });
  expect(JSON.parse(readFileSync(join(folder, 'account.json'), 'utf8'))).toMatchObject({
    name: 'Jóris',
    language: 'pt',
  });
  expect(readFileSync(join(folder, 'messages.csv'), 'utf8')).toContain(`'=HYPERLINK`);
  const names = execFileSync('7zz', ['l', '-ba', '-slt', join(folder, 'all.zip')], { encoding: 'utf8' });
  const written = [...names.matchAll(/^Path = written\/(.*)$/gm)].map(([, name]) => name!);
  expect(new Set(written).size).toBe(4);
  for (const name of written) expect(name).not.toMatch(/[/\\]|^\.\./);
  expect(readFileSync(join(folder, 'written', 'My new address.eml'), 'utf8')).toContain('Subject: My new address');
});
