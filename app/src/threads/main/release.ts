/** Messages that somebody else releases: sealed for them, opened by them, and sent back with a sentence. */
import { createClient } from '@under-lock/contract/client';
import { getRelease, getReleasePart } from '@under-lock/contract/release';
import { openFromRoom } from '@under-lock/core/locks/room/open';
import { type MessageContent } from '@under-lock/core/message/content';
import {
  openPaper,
  openReleaseKey,
  openSentence,
  type Paper,
  sealForRelease,
  sealSentence,
} from '@under-lock/core/release/paper';
import { fetchParts } from './parts';
import { privateKey } from './received';

const client = createClient(self.location.origin);

export const release = {
  seal: sealForRelease,
  sealSentence,
  /** Why each was sent back; undefined for what does not open. */
  async sentences(items: { id: string; sealed: Uint8Array }[]): Promise<(string | undefined)[]> {
    if (items.length === 0) return [];
    const key = await privateKey();
    return Promise.all(items.map(({ id, sealed }) => openSentence(key, sealed, id).catch(() => undefined)));
  },
  /** Fetches and opens what waits for this account’s word. @throws ApiProblem, SealError */
  async open(id: string, progress: (done: number) => void): Promise<{ paper: Paper; content: MessageContent }> {
    const found = await client(getRelease, { params: { id } });
    const key = await openReleaseKey(await privateKey(), found.sealedKey, id);
    const paper = await openPaper(found.paper, key, id);
    const content = await fetchParts(
      found.size,
      (index) => client(getReleasePart, { params: { id, index } }),
      progress,
    );
    return { paper, content: await openFromRoom({ content, key }) };
  },
};
