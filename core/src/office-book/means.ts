/** What came along with people that are brought in: of certificates and keys, those that are theirs and can be used. */
import { givenIn } from '../choosing/given';
import { type PersonCertificate, type PersonKey } from '../people/kept-person';
import { type Brought, type Exchanged } from './exchange';

/** A key from a file has the file for its origin, as a certificate has. */
type From = PersonCertificate['from'] & PersonKey['from'];

/**
 * With the first certificate and the first key among what came along that is for their address, usable now and not run
 * out. Nobody has compared them; damage and what is somebody else's is left out.
 */
export async function withMeans({ given = [], ...person }: Brought, from: From, now: Date): Promise<Exchanged> {
  const found: Pick<Exchanged, 'certificates' | 'keys'> = {};
  const addedAt = now.toISOString();
  for (const bytes of given) {
    const looked = await givenIn(bytes, person.address, now).catch(() => undefined);
    if (looked === undefined || 'problem' in looked) continue;
    const { choice } = looked;
    if (choice.way === 'certificate') {
      const { way: _, ...certificate } = choice;
      found.certificates ??= [{ ...certificate, addedAt, from }];
    } else {
      const { way: _, ...key } = choice;
      found.keys ??= [{ ...key, addedAt, from }];
    }
  }
  return { ...person, ...found };
}
