/** What mail leads to is there. */
import { officePathIn, officePaths } from '@under-lock/contract/office-paths';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';

const routes = join(__dirname, '../app');
const ID = '0b6f2c1b-0000-4000-8000-00000000000a';

/** A page of this name, or the one for any name; groups in brackets are no part of an address. */
function pageAt(folder: string, [first, ...rest]: readonly string[]): boolean {
  if (!existsSync(folder) || !statSync(folder).isDirectory()) return false;
  const names = readdirSync(folder);
  const groups = names.filter((name) => /^\(.*\)$/.test(name));
  if (groups.some((group) => pageAt(join(folder, group), [first!, ...rest]))) return true;
  const isDynamic = first === ID;
  const named = isDynamic ? names.filter((name) => /^\[.*\]/.test(name)) : [first!];
  if (rest.length > 0) return named.some((name) => pageAt(join(folder, name), rest));
  const files = named.flatMap((name) => [`${name.replace(/\.tsx$/, '')}.tsx`, join(name, 'index.tsx')]);
  return files.some((file) => existsSync(join(folder, file)));
}

test.each(Object.entries(officePaths))('%s leads to a page', (_, make) => {
  const path = make(ID).split('#')[0]!.slice(1);
  expect([path, pageAt(routes, path.split('/'))]).toEqual([path, true]);
});

test('a page that is not there is not found', () => {
  for (const path of [`left/${ID}`, 'mail/sent', 'nowhere', `write/handed/${ID}/more`])
    expect([path, pageAt(routes, path.split('/'))]).toEqual([path, false]);
});

test('the server names no page of the application by itself', () => {
  const sources = join(__dirname, '../../server/src');
  const files = readdirSync(sources, { recursive: true, encoding: 'utf8' }).filter((file) => file.endsWith('.ts'));
  // Of the reading room and of mail slots there are paths of their own.
  const named = /origin\}\/(?!room|slot)|path: [`']\/(?:sent|mail|keys|office|write)\b/;
  expect(files.filter((file) => named.test(readFileSync(join(sources, file), 'utf8')))).toEqual([]);
});

test('a report leads to its page, by the address of this office alone', () => {
  const origin = 'https://mail.larkmoor.example';
  const inText = (way: string): string | undefined => officePathIn(`Left at 09:51.\n\n${way}\n\nLarkmoor`, origin);
  for (const [name, make] of Object.entries(officePaths))
    expect([name, inText(`${origin}${make(ID)}`)]).toEqual([name, name === 'setUp' ? undefined : make(ID)]);
  expect(inText(`https://mail.larkmoor.example.net/mail/${ID}`)).toBeUndefined();
  expect(inText(`https://mailxlarkmoor.example/mail/${ID}`)).toBeUndefined();
  expect(inText(`${origin}/mail/${ID}/left`)).toBeUndefined();
  expect(inText(`${origin}/api/session`)).toBeUndefined();
});
