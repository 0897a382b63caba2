/**
 * The web of this world, as far as certificates need it: what the office's server fetches from `http://host/path` it
 * asks here for at `/web/host/path`.
 * The documented calls of an authority: POST /certificates with a PKCS#10 request in DER (`Content-Type:
 * application/pkcs10`) answers `{ certificate, chain }` in base64;
 * POST /revocations `{ serial, reason }`; GET /root.cer, /issuing.cer, /root.crl, /issuing.crl; POST /ocsp. The
 * directory: GET /people?mail=… or ?name=….
 */
import type Router from '@koa/router';
import { type RouterContext } from '@koa/router';
import { z } from 'zod';
import { type Authority, readRequest, REASONS } from './authority';
import { type Authorities, DIRECTORY_HOST, HOSTS } from './authorities';

const MAX_REQUEST = 64 * 1024;
const YEAR_MS = 365 * 86_400_000;

export async function bodyOf(http: RouterContext): Promise<Uint8Array<ArrayBuffer>> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of http.req as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > MAX_REQUEST) http.throw(413, 'too large');
    chunks.push(chunk);
  }
  return new Uint8Array(Buffer.concat(chunks));
}

const revocationSchema = z.object({
  serial: z.string().regex(/^[0-9a-f]{2,64}$/),
  reason: z.enum(Object.keys(REASONS) as [keyof typeof REASONS]),
});
const base64 = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');

async function issue(http: RouterContext, authority: Authority): Promise<void> {
  const asked = await readRequest(await bodyOf(http)).catch((error: Error) =>
    http.throw(422, `the request can’t be used: ${error.message}`),
  );
  if (asked.addresses.length === 0) http.throw(422, 'the request names no mail address');
  const now = new Date();
  const purpose = z.enum(['sign', 'encrypt', 'both']).catch('both').parse(http.query.purpose);
  const certificate = await authority.issue({
    publicKey: asked.publicKey,
    name: asked.name,
    organization: authority.state.name,
    addresses: asked.addresses,
    purpose,
    from: new Date(now.getTime() - 60_000),
    until: new Date(now.getTime() + YEAR_MS),
  });
  http.body = {
    certificate: base64(certificate),
    chain: [base64(authority.issuingCertificate), base64(authority.rootCertificate)],
  };
}

type Of = (http: RouterContext) => Promise<Authority>;

function send(http: RouterContext, type: string, bytes: Uint8Array): void {
  http.type = type;
  http.body = Buffer.from(bytes);
}

/** What anybody fetches of an authority: its certificates, its lists, its word on one certificate. */
function publishedRoutes(router: Router, of: Of): void {
  router.get('/web/:host/root.cer', async (http) =>
    send(http, 'application/pkix-cert', (await of(http)).rootCertificate),
  );
  router.get('/web/:host/issuing.cer', async (http) =>
    send(http, 'application/pkix-cert', (await of(http)).issuingCertificate),
  );
  router.get('/web/:host/root.crl', async (http) =>
    send(http, 'application/pkix-crl', await (await of(http)).list('root', new Date())),
  );
  router.get('/web/:host/issuing.crl', async (http) =>
    send(http, 'application/pkix-crl', await (await of(http)).list('issuing', new Date())),
  );
  router.post('/web/:host/ocsp', async (http) => {
    const authority = await of(http);
    const answer = await authority
      .answer(await bodyOf(http), new Date())
      .catch(() => http.throw(400, 'no OCSP request'));
    send(http, 'application/ocsp-response', answer);
  });
}

async function revoke(http: RouterContext, authority: Authority): Promise<void> {
  const asked = revocationSchema.safeParse(JSON.parse(Buffer.from(await bodyOf(http)).toString('utf8')));
  if (!asked.success) return http.throw(400, 'serial and reason are wanted');
  if (!authority.revoke(asked.data.serial, asked.data.reason, new Date()))
    return http.throw(409, 'this certificate was not issued here, or is revoked already');
  http.body = {};
}

function findPeople(http: RouterContext, { correspondents }: Authorities): void {
  if (http.params.host !== DIRECTORY_HOST) return http.throw(404, 'no such host in this world');
  const mail = String(http.query.mail ?? '').toLowerCase();
  const name = String(http.query.name ?? '').toLowerCase();
  if (mail === '' && name.length < 2) return http.throw(400, 'mail, or a name of two letters at least');
  const found = correspondents.filter(
    (one) =>
      one.listed &&
      (mail !== '' ? one.address === mail : `${one.name} ${one.organization}`.toLowerCase().includes(name)),
  );
  http.body = {
    entries: found.slice(0, 20).map(({ name: commonName, organization, address, certificate }) => ({
      name: commonName,
      organization,
      mail: address,
      certificates: [certificate],
    })),
  };
}

export function certificateRoutes(router: Router, authorities: () => Promise<Authorities>): void {
  const of: Of = async (http) =>
    (await authorities()).byHost(String(http.params.host)) ?? http.throw(404, 'no such host in this world');
  router.get('/authorities', async (http) => {
    const all = await authorities();
    http.body = {
      authorities: (['office', 'foreign'] as const).map((which) => ({
        host: HOSTS[which],
        name: all[which].state.name,
        office: which === 'office',
        root: base64(all[which].rootCertificate),
        issuing: base64(all[which].issuingCertificate),
      })),
    };
  });
  publishedRoutes(router, of);
  router.post('/web/:host/certificates', async (http) => issue(http, await of(http)));
  router.post('/web/:host/revocations', async (http) => revoke(http, await of(http)));
  router.get('/web/:host/people', async (http) => findPeople(http, await authorities()));
}
