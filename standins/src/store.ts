/**
 * What the outside world keeps: mails and texts, in files of its own. One JSON line each, so that a stopped write loses
 * at most itself.
 */
import { appendFileSync, existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';

export interface StoredMail {
  id: string;
  receivedAt: string;
  mailbox: string;
  junk: boolean;
  /** The mail as it came in, base64. */
  raw: string;
}

export interface StoredText {
  id: string;
  at: string;
  number: string;
  text: string;
  /** A call that was answered and listened to, instead of a text. */
  spoken?: true;
}

export interface Store {
  mails: StoredMail[];
  texts: StoredText[];
  read: Set<string>;
  addMail(mail: StoredMail): void;
  addText(text: StoredText): void;
  markRead(id: string): void;
  clear(): void;
}

const KEEP = 5000;

function load<T>(file: string): T[] {
  if (!existsSync(file)) return [];
  return readFileSync(file, 'utf8')
    .split('\n')
    .slice(-KEEP - 1)
    .flatMap((line) => {
      try {
        return line === '' ? [] : [JSON.parse(line) as T];
      } catch {
        return []; // the line that was being written when the process ended
      }
    });
}

/** Opens the store in `dir`; without one it forgets when the process ends. */
export function openStore(dir?: string): Store {
  if (dir !== undefined) mkdirSync(dir, { recursive: true });
  const file = (name: string): string | undefined => (dir === undefined ? undefined : join(dir, name));
  const [mailFile, textFile, readFile] = [file('mails.jsonl'), file('texts.jsonl'), file('read.jsonl')];
  const append = (path: string | undefined, value: unknown): void => {
    if (path !== undefined) appendFileSync(path, `${JSON.stringify(value)}\n`);
  };
  const store: Store = {
    mails: mailFile === undefined ? [] : load<StoredMail>(mailFile),
    texts: textFile === undefined ? [] : load<StoredText>(textFile),
    read: new Set(readFile === undefined ? [] : load<string>(readFile)),
    addMail(mail) {
      store.mails.push(mail);
      if (store.mails.length > KEEP) store.mails.shift();
      append(mailFile, mail);
    },
    addText(text) {
      store.texts.push(text);
      if (store.texts.length > KEEP) store.texts.shift();
      append(textFile, text);
    },
    markRead(id) {
      if (store.read.has(id)) return;
      store.read.add(id);
      append(readFile, id);
    },
    clear() {
      store.mails.length = 0;
      store.texts.length = 0;
      store.read.clear();
      for (const path of [mailFile, textFile, readFile]) if (path !== undefined) rmSync(path, { force: true });
    },
  };
  return store;
}
