/**
 * Where keys lie in this world: Web Key Directories of its domains and one key directory (HKP), asked for at
 * `/web/host/path` as everything of its web.
 */
import type Router from '@koa/router';
import { armoured } from '@under-lock/core/openpgp/armour';
import { wkdHash } from '@under-lock/core/openpgp/discovery';
import { readOpenPgpKey } from '@under-lock/core/openpgp/key';
import { type KeyHolder, type Keyring, KEYS_HOST, CERTIFYING_HOST, unpacked } from './keyring';

const publicOf = async ({ secret }: KeyHolder): Promise<Uint8Array<ArrayBuffer>> =>
  (await readOpenPgpKey(unpacked(secret))).bytes;
const local = (address: string): string => address.slice(0, address.lastIndexOf('@'));
const domain = (address: string): string => address.slice(address.lastIndexOf('@') + 1);

export function openPgpRoutes(router: Router, keyring: () => Promise<Keyring>): void {
  const atDomain = async (host: string, hash: string): Promise<Uint8Array<ArrayBuffer> | undefined> => {
    const found = (await keyring()).holders.find(
      ({ address, place }) => place === 'domain' && domain(address) === host && wkdHash(local(address)) === hash,
    );
    return found === undefined ? undefined : publicOf(found);
  };
  router.get('/web/:host/.well-known/openpgpkey/:domain/hu/:hash', async (http) => {
    const found =
      http.params.host === `openpgpkey.${http.params.domain}`
        ? await atDomain(http.params.domain!, http.params.hash!)
        : undefined;
    if (found === undefined) return http.throw(404, 'no such key');
    http.type = 'application/octet-stream';
    http.body = Buffer.from(found);
  });
  router.get('/web/:host/.well-known/openpgpkey/hu/:hash', async (http) => {
    const found = await atDomain(http.params.host!, http.params.hash!);
    if (found === undefined) return http.throw(404, 'no such key');
    http.type = 'application/octet-stream';
    http.body = Buffer.from(found);
  });
  router.get(`/web/${KEYS_HOST}/pks/lookup`, async (http) => {
    const { op, search } = http.query;
    if (op !== 'get' || typeof search !== 'string') return http.throw(501, 'only op=get');
    for (const one of (await keyring()).holders.filter(({ place }) => place !== 'nowhere')) {
      const key = await readOpenPgpKey(unpacked(one.secret));
      if (
        `0x${key.fingerprint}` !== search.toLowerCase() &&
        (one.place !== 'directory' || one.address !== search.toLowerCase())
      )
        continue;
      http.type = 'application/pgp-keys';
      http.body = Buffer.from(armoured('PUBLIC KEY BLOCK', key.bytes));
      return undefined;
    }
    return http.throw(404, 'no such key');
  });
  router.get(`/web/${CERTIFYING_HOST}/openpgp/vouching.asc`, async (http) => {
    http.type = 'application/pgp-keys';
    http.body = Buffer.from(armoured('PUBLIC KEY BLOCK', (await readOpenPgpKey((await keyring()).certifying)).bytes));
  });
  /** Somebody outside makes a new key, or revokes theirs. */
  router.post('/openpgp/:address/:what', async (http) => {
    const { address, what } = http.params;
    if (what !== 'replace' && what !== 'revoke') return http.throw(404, 'replace or revoke');
    await (await keyring()).change(address!, what, new Date());
    http.body = {};
  });
}
