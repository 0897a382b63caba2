/**
 * What lies in sixty files, written by LibreOffice 7.4, openpyxl, python-docx, odfpy and Python's own mail and ZIP: in
 * headers, tables, hidden sheets, comments, mails and archives within archives. Half of them hold look-alikes only.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Kind } from '../../src/scan/finding';
import { seenInFile } from '../../src/scan/message';

const DIR = join(__dirname, 'corpus/files');
const labels = JSON.parse(readFileSync(join(DIR, 'labels.json'), 'utf8')) as Record<string, Kind[]>;

test('there are sixty, each with its labels', () => {
  const files = readdirSync(DIR).filter((name) => name !== 'labels.json');
  expect(files.length).toBeGreaterThanOrEqual(60);
  expect(files.sort()).toEqual(Object.keys(labels).sort());
});

test.each(Object.entries(labels))('%s holds %j, and all of it was looked into', async (name, expected) => {
  const { seen, unread, more } = await seenInFile(
    { name, bytes: new Uint8Array(readFileSync(join(DIR, name))) },
    { thisYear: 2026 },
  );
  expect(seen.map(({ kind }) => kind).sort()).toEqual(expected);
  expect([unread, more]).toEqual([[], false]);
});
