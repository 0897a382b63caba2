/**
 * The office's own directory, asked over LDAP (RFC 4511) for people to bring into the office book. Always under TLS:
 * `ldaps`, or `ldap` with StartTLS (RFC 4513, 3). What it refers to elsewhere is counted and not followed: where a
 * directory points is not ours to ask.
 */
import {
  AndFilter,
  Client,
  type Entry,
  type Filter,
  InvalidCredentialsError,
  OrFilter,
  PresenceFilter,
  SizeLimitExceededError,
  SubstringFilter,
} from 'ldapts';
import { type Reply } from '@under-lock/contract/client';
import { type searchOfficeDirectory } from '@under-lock/contract/office-book';
import { MOST_CERTIFICATE } from '@under-lock/core/choosing/choice';
import { defined } from '@under-lock/core/defined';
import { type DirectoryEntry } from '@under-lock/core/office-book/exchange';
import { connect, type Socket } from 'node:net';
import { connect as connectSecurely, type ConnectionOptions } from 'node:tls';
import { type Config } from '../config';
import { type Context } from '../context';
import { Problem } from '../problem';

type LdapFound = Reply<typeof searchOfficeDirectory>;
type Directory = NonNullable<Config['ldap']>;

const PAGE = 200;
const MOST_PEOPLE = 5_000;
const MOST_OCTETS = 32 * 1024 * 1024;
const MOST_VALUES = 5;
const MOST_SIGNS = 300;
/** Of certificates, in one answer. */
const MOST_CERTIFICATES = 8 * 1024 * 1024;

/** RFC 4519, RFC 2798 (inetOrgPerson), RFC 4523. */
const CERTIFICATE = 'userCertificate;binary';
const SEARCHED = ['cn', 'displayName', 'mail', 'o', 'ou'];
const ATTRIBUTES = ['cn', 'displayName', 'mail', 'o', 'mobile', 'telephoneNumber', 'preferredLanguage', CERTIFICATE];

const valuesOf = (entry: Entry, attribute: string): (string | Buffer)[] => [entry[attribute] ?? []].flat();
const textsOf = (entry: Entry, ...attributes: string[]): string[] =>
  attributes
    .flatMap((one) => valuesOf(entry, one))
    .filter((value): value is string => typeof value === 'string' && value !== '' && value.length <= MOST_SIGNS)
    .slice(0, MOST_VALUES);

const personOf = (entry: Entry): DirectoryEntry => ({
  name: textsOf(entry, 'displayName', 'cn')[0] ?? '',
  addresses: textsOf(entry, 'mail'),
  firm: textsOf(entry, 'o')[0] ?? '',
  phones: textsOf(entry, 'mobile', 'telephoneNumber'),
  language: textsOf(entry, 'preferredLanguage')[0] ?? '',
  certificates: valuesOf(entry, CERTIFICATE)
    .filter((value) => Buffer.isBuffer(value))
    .filter(({ length }) => length > 0 && length <= MOST_CERTIFICATE)
    .slice(0, MOST_VALUES)
    .map((value) => new Uint8Array(value)),
});

/** Whoever has a mail address; of these whose name, address, firm or department holds what is looked for. */
function filterFor(wanted: string): Filter {
  const reachable = new PresenceFilter({ attribute: 'mail' });
  if (wanted === '') return reachable;
  const holding = SEARCHED.map((attribute) => new SubstringFilter({ attribute, any: [wanted] }));
  return new AndFilter({ filters: [reachable, new OrFilter({ filters: holding })] });
}

/** A connection that ends by itself when it lasts or brings too much. */
class Bounded {
  private readonly secured: ConnectionOptions;
  private readonly startsSecure: boolean;
  private socket: Socket | undefined;
  private readonly watch: ReturnType<typeof setInterval>;
  readonly client: Client;

  constructor({ url, ca, seconds }: Directory) {
    this.startsSecure = url.startsWith('ldaps:');
    // Whom the certificate is to be for: over StartTLS nobody else says it.
    this.secured = { host: new URL(url).hostname, minVersion: 'TLSv1.2', ...defined({ ca }) };
    const until = Date.now() + seconds * 1000;
    const kept = <T extends Socket>(socket: T): T => {
      this.socket ??= socket;
      return socket;
    };
    this.client = new Client({
      url,
      timeout: seconds * 1000,
      connectTimeout: Math.min(5, seconds) * 1000,
      createConnection: ((port: number, host: string) => kept(connect(port, host))) as typeof connect,
      // With these a connection is under TLS at once, whatever its scheme says.
      ...(this.startsSecure
        ? {
            tlsOptions: this.secured,
            createSecureConnection: ((port: number, host: string, options: ConnectionOptions) =>
              kept(connectSecurely(port, host, options))) as typeof connectSecurely,
          }
        : {}),
    });
    this.watch = setInterval(() => {
      if (Date.now() > until || (this.socket?.bytesRead ?? 0) > MOST_OCTETS) this.socket?.destroy();
    }, 100);
  }

  /** From here on nothing is readable on the way. */
  async secure(): Promise<void> {
    if (!this.startsSecure) await this.client.startTLS({ ...this.secured });
  }

  async end(): Promise<void> {
    clearInterval(this.watch);
    await this.client.unbind().catch(() => undefined);
    this.socket?.destroy();
  }
}

async function search(client: Client, { base, seconds }: Directory, wanted: string): Promise<LdapFound> {
  const found: LdapFound = { people: [], more: false, elsewhere: 0 };
  let octets = 0;
  const pages = client.searchPaginated(base, {
    scope: 'sub',
    filter: filterFor(wanted),
    attributes: ATTRIBUTES,
    explicitBufferAttributes: [CERTIFICATE],
    paged: { pageSize: PAGE },
    timeLimit: seconds,
  });
  try {
    for await (const { searchEntries, searchReferences } of pages) {
      found.elsewhere += searchReferences.length;
      for (const entry of searchEntries) {
        const person = personOf(entry);
        octets += person.certificates.reduce((sum, { length }) => sum + length, 0);
        if (found.people.length === MOST_PEOPLE || octets > MOST_CERTIFICATES) return { ...found, more: true };
        found.people.push(person);
      }
    }
  } catch (error) {
    // What it gave before its own limit stands.
    if (!(error instanceof SizeLimitExceededError)) throw error;
    found.more = true;
  }
  return found;
}

const unreachable = (detail: string): Problem =>
  new Problem('unreachable', 502, 'The directory does not answer', { detail });

const asking = new WeakSet<Context>();

/** @throws Problem `not-found` where the office has none; `busy`; `unreachable` */
export async function searchLdap(context: Context, wanted: string): Promise<LdapFound> {
  const { ldap } = context.config;
  if (ldap === undefined) throw new Problem('not-found', 404, 'The office has no directory');
  if (asking.has(context))
    throw new Problem('busy', 503, 'Somebody else is asking', {
      detail: 'A colleague is just asking the directory. Try again in half a minute.',
    });
  asking.add(context);
  const bounded = new Bounded(ldap);
  try {
    await bounded.secure();
    if (ldap.user !== undefined) await bounded.client.bind(ldap.user.name, ldap.user.password);
    return await search(bounded.client, ldap, wanted);
  } catch (cause) {
    context.log.error('ldap', cause);
    if (cause instanceof InvalidCredentialsError)
      throw unreachable(
        'The directory does not take the name and password it is asked with. Tell whoever runs the server.',
      );
    throw unreachable(
      'The directory does not answer as it should. Try again later, or bring the people in from a file.',
    );
  } finally {
    asking.delete(context);
    await bounded.end();
  }
}
