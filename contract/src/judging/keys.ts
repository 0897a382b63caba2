/** Judges OpenPGP keys by whose word the office takes; that is asked for once in a few minutes. */
import { openPgpKeysIn } from '@under-lock/core/openpgp/in-file';
import { type OpenPgpKey } from '@under-lock/core/openpgp/key';
import { judgeKey, type KeyQuestion, type OpenPgpVerdict } from '@under-lock/core/openpgp/verdict';
import { type Client } from '../client';
import { getKeyTrust } from '../openpgp';

const FRESH_MS = 5 * 60_000;

export class KeyJudge {
  private trusted: { keys: Promise<OpenPgpKey[]>; at: number } | undefined;

  constructor(private readonly client: Client) {}

  /** After the office takes somebody else's word. */
  forget(): void {
    this.trusted = undefined;
  }

  /** @throws ApiProblem */
  async judge(questions: readonly Omit<KeyQuestion, 'trusted' | 'now'>[], now: Date): Promise<OpenPgpVerdict[]> {
    if (questions.length === 0) return [];
    const trusted = await this.trustedKeys(now);
    return Promise.all(questions.map((one) => judgeKey({ ...one, now, trusted })));
  }

  private async fetched(): Promise<OpenPgpKey[]> {
    const { keys } = await this.client(getKeyTrust);
    return (await Promise.all(keys.map(({ key }) => openPgpKeysIn(key)))).flat();
  }

  private trustedKeys(now: Date): Promise<OpenPgpKey[]> {
    if (this.trusted === undefined || now.getTime() - this.trusted.at > FRESH_MS) {
      const keys = this.fetched();
      this.trusted = { keys, at: now.getTime() };
      keys.catch(() => this.forget());
    }
    return this.trusted.keys;
  }
}
