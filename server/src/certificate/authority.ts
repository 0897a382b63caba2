/**
 * The office's authority behind an interface. The one that ships speaks two documented HTTP calls (docs/formats.md);
 * a real authority's door, such as ACME for S/MIME (RFC 8823), takes its place here.
 */
import { z } from 'zod';
import { type RevokeReason } from '@under-lock/contract/certificate';
import { type Context } from '../context';
import { Problem } from '../problem';
import { askDoor, WebError } from './web';

export interface IssuedChain {
  certificate: Uint8Array<ArrayBuffer>;
  chain: Uint8Array<ArrayBuffer>[];
}

export interface AuthorityDoor {
  /** @throws Problem `invalid-input` when the authority refuses, `unreachable` when it doesn't answer */
  issue(request: Uint8Array, purpose: 'sign' | 'encrypt' | 'both'): Promise<IssuedChain>;
  /** @param serial in lower-case hex. @throws Problem `conflict`, `unreachable` */
  revoke(serial: string, reason: RevokeReason): Promise<void>;
}

const base64 = z
  .string()
  .max(400_000)
  .transform((text) => new Uint8Array(Buffer.from(text, 'base64')));
const issuedSchema = z.object({ certificate: base64, chain: z.array(base64).max(10) });
const MAX_ANSWER = 1024 * 1024;

function refusal(cause: unknown): never {
  if (!(cause instanceof WebError)) throw cause;
  const refused = /^answered (422|409): (.*)$/s.exec(cause.message);
  if (refused?.[1] === '422')
    throw new Problem('invalid-input', 400, 'The authority refused the request', {
      detail: `The authority refused the request: ${refused[2]}.`,
    });
  if (refused?.[1] === '409')
    throw new Problem('conflict', 409, 'The authority has revoked this certificate already, or never issued it');
  throw new Problem('unreachable', 502, 'The certificate authority does not answer', {
    detail: `The certificate authority does not answer (${cause.message}). Nothing was changed; try again later.`,
  });
}

export function httpAuthority(context: Context): AuthorityDoor {
  const { authorityUrl } = context.config;
  return {
    async issue(request, purpose) {
      const answer = await askDoor(
        context,
        'authority',
        `${authorityUrl}/certificates?purpose=${purpose}`,
        MAX_ANSWER,
        { method: 'POST', headers: { 'Content-Type': 'application/pkcs10' }, body: new Uint8Array(request) },
      ).catch(refusal);
      return issuedSchema.parse(JSON.parse(answer.toString('utf8')));
    },
    async revoke(serial, reason) {
      await askDoor(context, 'authority', `${authorityUrl}/revocations`, MAX_ANSWER, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ serial, reason }),
      }).catch(refusal);
    },
  };
}
