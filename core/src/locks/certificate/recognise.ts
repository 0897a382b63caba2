/** Whether a mail is S/MIME, by its octets: what its head says may be wrong. */
import { fromBase64Lines } from '../../message/base64';
import { kindFromStart } from '../../cms/content-info';
import { type Entity } from '../../message/entity';
import { type Recognised } from '../lock';

/** As many octets of base64 as the kind of a CMS object needs. */
const START = 120;

export function recogniseCertificate({ contentType: { type, parameters }, body }: Entity): Recognised | undefined {
  if (type === 'multipart/signed')
    return parameters.get('protocol') === 'application/pkcs7-signature' ? { keeps: 'origin', weak: false } : undefined;
  if (type !== 'application/pkcs7-mime') return undefined;
  const kind = kindFromStart(fromBase64Lines(body.subarray(0, START)));
  if (kind === 'enveloped' || kind === 'authEnveloped') return { keeps: 'all', weak: false };
  return kind === 'signed' ? { keeps: 'origin', weak: false } : undefined;
}
