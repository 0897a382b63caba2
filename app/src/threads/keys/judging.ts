/** Certificates judged for this worker: by what the office trusts, and by what they trust themselves. */
import { CertificateJudge } from '@under-lock/contract/judging/certificates';
import { fromBase64Url } from '@under-lock/core/bytes';
import { client, keptAnchors } from '../opened/vault';

export { type Asked, type JudgedHere } from '@under-lock/contract/judging/certificates';

export const certificateJudge = new CertificateJudge(client, async () =>
  (await keptAnchors()).map(({ value }) => fromBase64Url(value.certificate)),
);
