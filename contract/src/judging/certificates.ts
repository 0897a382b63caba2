/**
 * Judges certificates by what the office trusts and by fresh evidence, which the server fetches. Evidence is kept for a
 * few minutes, so that a hundred recipients are asked about once.
 */
import { defined } from '@under-lock/core/defined';
import { sameBytes } from '@under-lock/core/bytes';
import { type Certificate, readCertificate } from '@under-lock/core/certificate/certificate';
import { chainAbove } from '@under-lock/core/certificate/chain';
import { CertificateError } from '@under-lock/core/certificate/errors';
import { Evidence } from '@under-lock/core/certificate/evidence';
import { ocspRequest, readOcspAnswer } from '@under-lock/core/certificate/ocsp';
import { readRevocationList } from '@under-lock/core/certificate/revocation-list';
import { judge, type Use, type Verdict } from '@under-lock/core/certificate/verdict';
import { getEvidence, getTrust } from '../certificate';
import { type Client } from '../client';

export interface Asked {
  certificate: Certificate;
  use: Use;
  address?: string;
  at?: Date;
  /** Certificates that came along. */ along?: readonly Certificate[];
}

const FRESH_MS = 5 * 60_000;
const MAX_CLIMB = 4;

const listUrls = ({ distributionPoints }: Certificate): string[] =>
  distributionPoints.flatMap(({ name }) =>
    name?.kind === 'full'
      ? name.names.flatMap((one) => (one.kind === 'uri' && /^https?:/i.test(one.value) ? [one.value] : []))
      : [],
  );

/** What can be read of what was fetched; the rest is as good as not there. */
function readable<T>(items: readonly Uint8Array[], read: (bytes: Uint8Array) => T): T[] {
  return items.flatMap((bytes) => {
    try {
      return [read(bytes)];
    } catch (error) {
      if (!(error instanceof CertificateError)) throw error;
      return [];
    }
  });
}

interface Gathered {
  evidence: Evidence;
  /** Anchors that only this worker trusts. */ personal: readonly Certificate[];
  at: number;
  covered: ReadonlySet<string>;
}

const keyOf = ({ issuer, serial }: Certificate): string => `${issuer.key} ${serial}`;
const isAnchored = (certificate: Certificate, pool: readonly Certificate[]): boolean =>
  pool.some(({ subject }) => subject.key === certificate.issuer.key);

/** `personal`: only this worker trusts the authority it rests on. */
export type JudgedHere = Verdict & { personal: boolean };

export class CertificateJudge {
  private gathered: Gathered | undefined;

  /** @param ownAnchors Authorities that whoever asks trusts besides the office's, each as DER. */
  constructor(
    private readonly client: Client,
    private readonly ownAnchors: () => Promise<readonly Uint8Array[]>,
  ) {}

  /** After something was revoked, or the office trusts otherwise. */
  forget(): void {
    this.gathered = undefined;
  }

  /** @throws ApiProblem */
  async judge(asked: readonly Asked[], now: Date): Promise<JudgedHere[]> {
    if (asked.length === 0) return [];
    const { evidence, personal } = await this.gather(asked, now);
    return Promise.all(
      asked.map(async ({ certificate, use, address, at }) => {
        const verdict = await judge({ certificate, use, now, evidence, ...defined({ address, at }) });
        const [anchor] = verdict.path;
        return {
          ...verdict,
          personal: verdict.path.length > 1 && personal.some(({ bytes }) => sameBytes(bytes, anchor!.bytes)),
        };
      }),
    );
  }

  /** The uppermost authority that can be found above a certificate; undefined when there is none to be had. */
  async topOf(certificate: Certificate, along: readonly Certificate[]): Promise<Certificate | undefined> {
    const pool: Certificate[] = [...along];
    await this.climb([certificate], pool);
    return chainAbove(
      certificate,
      pool.filter(({ basicConstraints }) => basicConstraints?.ca === true),
    ).at(-1);
  }

  /** Issuers that nobody brought along, fetched from where the certificates say they lie. */
  private async climb(certificates: readonly Certificate[], pool: Certificate[]): Promise<void> {
    let wanting = certificates.filter((one) => !isAnchored(one, pool));
    for (let step = 0; step < MAX_CLIMB && wanting.length > 0; step++) {
      const issuers = [...new Set(wanting.flatMap(({ infoAccess }) => infoAccess.issuers))].slice(0, 20);
      if (issuers.length === 0) return;
      const found = readable(
        (await this.client(getEvidence, { body: { lists: [], issuers, questions: [] } })).issuers,
        readCertificate,
      );
      pool.push(...found);
      wanting = found.filter((one) => !isAnchored(one, pool));
    }
  }

  private async anchors(): Promise<{ all: Certificate[]; personal: Certificate[] }> {
    const [{ anchors: trusted }, own] = await Promise.all([this.client(getTrust), this.ownAnchors()]);
    const office = readable(
      trusted.map(({ certificate }) => certificate),
      readCertificate,
    );
    // What the office trusts, too, is no trust of one's own.
    const personal = readable(own, readCertificate).filter(
      (one) => !office.some(({ bytes }) => sameBytes(bytes, one.bytes)),
    );
    return { all: [...office, ...personal], personal };
  }

  private async gather(asked: readonly Asked[], now: Date): Promise<Gathered> {
    const covered = new Set(asked.map(({ certificate }) => keyOf(certificate)));
    const before = this.gathered;
    if (
      before !== undefined &&
      now.getTime() - before.at < FRESH_MS &&
      [...covered].every((key) => before.covered.has(key))
    )
      return before;
    const { all, personal } = await this.anchors();
    const targets = asked.map(({ certificate }) => certificate);
    const pool: Certificate[] = [...all, ...asked.flatMap(({ along = [] }) => along)];
    await this.climb(targets, pool);
    const had = await this.fetched(targets, pool);
    const evidence = new Evidence({
      anchors: all,
      certificates: pool,
      lists: readable(had.lists, readRevocationList),
      answers: readable(had.answers, readOcspAnswer),
    });
    this.gathered = { evidence, personal, at: now.getTime(), covered };
    return this.gathered;
  }

  /** Revocation lists of all concerned, and answers about those that have none. */
  private async fetched(
    targets: readonly Certificate[],
    pool: readonly Certificate[],
  ): Promise<{ lists: Uint8Array[]; answers: Uint8Array[] }> {
    const concerned = [...targets, ...pool.filter(({ basicConstraints }) => basicConstraints?.ca === true)];
    const lists = [...new Set(concerned.flatMap(listUrls))].slice(0, 50);
    const questions = targets
      .filter((one) => listUrls(one).length === 0)
      .flatMap((one) => {
        const issuer = pool.find(({ subject }) => subject.key === one.issuer.key);
        const [url] = one.infoAccess.ocsp;
        return issuer === undefined || url === undefined ? [] : [{ url, request: ocspRequest(one, issuer) }];
      })
      .slice(0, 50);
    return lists.length + questions.length === 0
      ? { lists: [], answers: [] }
      : this.client(getEvidence, { body: { lists, issuers: [], questions } });
  }
}
