/** The scan of a mail that was handed in, as a browser makes it of a draft. */
import { type Bytes } from '@under-lock/core/bytes';
import { type Draft } from '@under-lock/core/outgoing/draft';
import { type Looked } from '@under-lock/core/outgoing/looked';
import { type Policy } from '@under-lock/core/rules/policy';
import { wordsOfHtml } from '@under-lock/core/scan/files/html';
import { seenInFile, seenInMessage } from '@under-lock/core/scan/message';
import { readers } from './readers';
import { officeFinder } from '@under-lock/core/scan/text';

interface Inside {
  files: ReadonlyMap<string, Bytes>;
  /** The whole mail is. */
  isLocked: boolean;
  /** Leaves with it where it goes as it was written. */
  onlyPlain: string;
}

export async function lookThrough(
  { subject, html, files }: Draft,
  { files: bytesOf, isLocked, onlyPlain }: Inside,
  { words, patterns }: Policy,
  now: Date,
): Promise<Looked> {
  const about = { thisYear: now.getFullYear(), office: officeFinder({ words, patterns }) };
  const open = await seenInMessage(
    { subject, text: `${wordsOfHtml(html)}\n${onlyPlain}`.trimEnd(), fileNames: files.map(({ name }) => name) },
    about,
  );
  const inside = new Map<string, Awaited<ReturnType<typeof seenInFile>>>();
  for (const { blobId, name } of files) {
    const seen = await seenInFile({ name, bytes: bytesOf.get(blobId)! }, about, { ports: readers });
    inside.set(blobId, isLocked ? { ...seen, isLocked } : seen);
  }
  return { open: [...open, ...[...inside.values()].flatMap(({ seen }) => seen)], passed: [], files: inside };
}
