/**
 * The certificate thread: what works with certificates and private keys, apart from the other worker, so that its
 * libraries load only where they are wanted.
 */
import { type Bytes, fromBase64Url, toBase64Url } from '@under-lock/core/bytes';
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { certificatesIn } from '@under-lock/core/key-files/in-file';
import { type DirectoryEntry, type Exchanged, type ReadPeople } from '@under-lock/core/office-book/exchange';
import { type CountryCode } from '@under-lock/core/people/phone';
import { type Use } from '@under-lock/core/certificate/verdict';
import { expose } from 'comlink';
import '../errors';
import { type CertificateView, type VerdictView } from '../../keys/certificate-view';
import { certificateJudge } from './judging';
import { copies } from './copies';
import { lent } from './lent';
import { opening } from './opening';
import { type FileRoom } from './file/room';
import { type OpenPgpRoom } from './openpgp/room';
import { own } from './own';
import { cancelTransfer } from '../transfer';
import { dropAnchor, keepAnchor, keptAnchors } from '../opened/vault';
import { verdictView, viewOfBytes } from './view';

export interface Question {
  certificate: Uint8Array;
  use: Use;
  address?: string;
  at?: Date;
  along?: readonly Uint8Array[];
}

const certificates = {
  /** @throws CertificateError */
  view: (bytes: Uint8Array): Promise<CertificateView> => viewOfBytes(bytes),
  /** Certificates in a file of any usual kind; none when there is nothing. */
  inFile: async (bytes: Uint8Array): Promise<Uint8Array<ArrayBuffer>[]> =>
    certificatesIn(bytes).map((one) => one.bytes.slice() as Uint8Array<ArrayBuffer>),
  async judge(questions: readonly Question[], now: Date): Promise<VerdictView[]> {
    const verdicts = await certificateJudge.judge(
      questions.map(({ certificate, along = [], ...rest }) => ({
        ...rest,
        certificate: readCertificate(certificate),
        along: along.map((one) => readCertificate(one)),
      })),
      now,
    );
    return Promise.all(verdicts.map(verdictView));
  },
  forgetEvidence: (): void => certificateJudge.forget(),
  /**
   * The uppermost authority above a certificate, looked for where the certificates say; undefined when there is none to
   * be had.
   */
  async topOf(certificate: Uint8Array, along: readonly Uint8Array[]): Promise<CertificateView | undefined> {
    const top = await certificateJudge.topOf(
      readCertificate(certificate),
      along.map((one) => readCertificate(one)),
    );
    return top === undefined ? undefined : viewOfBytes(top.bytes);
  },
};

/** Authorities that only this worker trusts. */
const anchors = {
  list: async (): Promise<{ id: string; addedAt: string; view: CertificateView }[]> =>
    Promise.all(
      (await keptAnchors()).map(async ({ id, value }) => ({
        id,
        addedAt: value.addedAt,
        view: await viewOfBytes(fromBase64Url(value.certificate)),
      })),
    ),
  async add(id: string, certificate: Uint8Array, now: Date): Promise<void> {
    await keepAnchor(id, {
      certificate: toBase64Url(readCertificate(certificate).bytes.slice() as Uint8Array<ArrayBuffer>),
      addedAt: now.toISOString(),
    });
    certificateJudge.forget();
  },
  async remove(id: string): Promise<void> {
    await dropAnchor(id);
    certificateJudge.forget();
  },
};

/** OpenPGP's library is fetched at the first call: most workers never meet a key of its kind. */
const openpgp = new Proxy({} as OpenPgpRoom, {
  get:
    (_, name: keyof OpenPgpRoom) =>
    async (...args: unknown[]) => {
      const { openpgp: room } = await import('./openpgp/room');
      return (room[name] as (...given: unknown[]) => unknown)(...args);
    },
});

/** Containers and word lists likewise. */
const file = new Proxy({} as FileRoom, {
  get:
    (_, name: keyof FileRoom) =>
    async (...args: unknown[]) => {
      const { file: room } = await import('./file/room');
      return (room[name] as (...given: unknown[]) => unknown)(...args);
    },
});

/** With the certificates and keys that came along and can be used. */
async function withAll(read: ReadPeople, from: 'file' | 'directory'): Promise<ReadPeople> {
  if (!read.ok || read.people.every(({ given }) => given === undefined)) return read;
  const { withMeans } = await import('@under-lock/core/office-book/means');
  const now = new Date();
  return { ...read, people: await Promise.all(read.people.map((one) => withMeans(one, from, now))) };
}

/** People out of files of other programs and out of directories, and into files. */
const people = {
  read: async (bytes: Bytes, country: CountryCode): Promise<ReadPeople> =>
    withAll((await import('@under-lock/core/office-book/exchange')).readPeople(bytes, country), 'file'),
  ofDirectory: async (entries: readonly DirectoryEntry[], country: CountryCode): Promise<ReadPeople> =>
    withAll((await import('@under-lock/core/office-book/exchange')).peopleOfDirectory(entries, country), 'directory'),
  write: async (all: readonly Exchanged[], as: 'table' | 'cards'): Promise<string> => {
    const { peopleAsCsv, peopleAsVcard } = await import('@under-lock/core/office-book/exchange');
    return as === 'table' ? peopleAsCsv(all) : peopleAsVcard(all);
  },
};

/** Copies on their way out of this thread. */
const transfers = { cancel: cancelTransfer };

const door = { lent, transfers, people, own, anchors, certificates, copies, opening, openpgp, file };
export type KeysDoor = typeof door;

expose(door);
