/** Opens the OpenPGP layers of mail, judges whoever signed them, and gathers the keys that came along. */
import { defined } from '@under-lock/core/defined';
import { type Bytes } from '@under-lock/core/bytes';
import { openOpenPgp } from '@under-lock/core/locks/openpgp/layers';
import { type Layer } from '@under-lock/core/locks/layer';
import { type OpenPgpOpener } from '@under-lock/core/locks/unwrap';
import { type MessageContent } from '@under-lock/core/message/content';
import { fieldsNamed, readEntity } from '@under-lock/core/message/entity';
import { readAutocrypt } from '@under-lock/core/openpgp/discovery';
import { openPgpKeysIn } from '@under-lock/core/openpgp/in-file';
import { type OpenPgpKey } from '@under-lock/core/openpgp/key';
import { checkApart, type OpenPgpCheck } from '@under-lock/core/openpgp/message';
import { onlyBlock } from '@under-lock/core/openpgp/armour';
import { addressKey } from '@under-lock/core/people/address';
import { type OpenPgpVerdictView, type OpenPgpView } from '../../../keys/openpgp/view';
import { keyJudge } from './judging';
import { secretOf } from '@under-lock/core/openpgp/usable';
import { keptSecrets, keyringOf, type KnownKey } from './kept';
import { keyVerdictView, keyView } from './views';

export type OpenPgpSignerView =
  /** `along`: its key is known from this very mail only. */
  | {
      kind: 'key-signed';
      key: OpenPgpView;
      verdict: OpenPgpVerdictView;
      signingTime: Date;
      along: boolean;
      /** Text and files each under a signature of their own. */ apart: boolean;
    }
  | { kind: 'key-changed'; key: OpenPgpView }
  | { kind: 'key-unsupported' | 'key-unreadable' }
  | { kind: 'key-missing'; keyId: string };

export interface KeyAlong {
  view: OpenPgpView;
  verdict: OpenPgpVerdictView;
  from: 'autocrypt' | 'mail' | 'text';
}

/** What one mail needs: our keys, the keyring with what came along, and who turned out to be in it. */
export interface OpenPgpSession {
  open: OpenPgpOpener;
  along: (keys: readonly OpenPgpKey[]) => void;
  find: (keyId: string) => Promise<KnownKey[]>;
}

export async function session(): Promise<OpenPgpSession> {
  const secret = await Promise.all((await keptSecrets()).map(({ value }) => secretOf(value)));
  const kept = await keyringOf(secret);
  const came: OpenPgpKey[] = [];
  const find = async (keyId: string): Promise<KnownKey[]> => {
    const found = await kept(keyId);
    return found.length > 0
      ? found
      : came
          .filter(({ material }) => material.getKeyIDs().some((id) => id.toHex() === keyId))
          .map((key) => ({ key, compared: false }));
  };
  return {
    open: (form, entity) =>
      openOpenPgp(form, entity, { secret, known: async (keyId) => (await find(keyId)).map(({ key }) => key) }),
    along: (keys) => void came.push(...keys),
    find,
  };
}

const isSigned = (layer: Layer): layer is Extract<Layer, { kind: 'signed'; by: 'openpgp' }> =>
  layer.kind === 'signed' && layer.by === 'openpgp';

/** A signature whose key is not known: what came along in the mail may hold it. */
export const wantsKeys = (layers: readonly Layer[]): boolean =>
  layers.filter(isSigned).some(({ checks }) => checks.some(({ kind }) => kind === 'no-key'));

async function views(
  checks: readonly { check: OpenPgpCheck; apart: boolean }[],
  address: string | undefined,
  { find }: Pick<OpenPgpSession, 'find'>,
  cameAlong: ReadonlySet<string>,
  now: Date,
): Promise<OpenPgpSignerView[]> {
  return Promise.all(
    checks.map(async ({ check, apart }): Promise<OpenPgpSignerView> => {
      if (check.kind === 'unsupported') return { kind: 'key-unsupported' };
      if (check.kind === 'unreadable') return { kind: 'key-unreadable' };
      if (check.kind === 'no-key') return { kind: 'key-missing', keyId: check.keyId };
      const key = keyView(check.key, now);
      if (check.kind === 'changed') return { kind: 'key-changed', key };
      const known = (await find(check.key.material.getKeyID().toHex())).find(
        (one) => one.key.fingerprint === check.key.fingerprint,
      );
      const [verdict] = await keyJudge.judge(
        [
          {
            key: check.key,
            use: 'sign',
            at: check.at,
            part: check.part,
            compared: known?.compared ?? false,
            ...defined({ address }),
          },
        ],
        now,
      );
      return {
        kind: 'key-signed',
        key,
        verdict: keyVerdictView(verdict!),
        signingTime: check.at,
        along: cameAlong.has(check.key.fingerprint),
        apart,
      };
    }),
  );
}

export const signersOf = (
  layers: readonly Layer[],
  address: string | undefined,
  about: Pick<OpenPgpSession, 'find'>,
  cameAlong: ReadonlySet<string>,
  now: Date,
): Promise<OpenPgpSignerView[]> =>
  views(
    layers.filter(isSigned).flatMap(({ checks, apart }) => checks.map((check) => ({ check, apart }))),
    address,
    about,
    cameAlong,
    now,
  );

const MAX_FILES = 20;
const MAX_KEY_FILE = 512 * 1024;
const looksLikeKey = ({ name, type, bytes }: MessageContent['files'][number]): boolean =>
  bytes.length <= MAX_KEY_FILE && (type === 'application/pgp-keys' || /\.(?:asc|gpg|pgp|key|pub)$/i.test(name));

/**
 * In the field of the mail's own head, in its files, in its text. The field counts only when it is one, for whom the
 * mail is from.
 */
export async function keysIn(
  raw: Uint8Array,
  { from, files, text }: Pick<MessageContent, 'from' | 'files' | 'text'>,
): Promise<{ key: OpenPgpKey; from: KeyAlong['from'] }[]> {
  const fields = fieldsNamed(readEntity(raw), 'autocrypt').flatMap(({ value }) => readAutocrypt(value) ?? []);
  const field =
    fields.length === 1 && addressKey(fields[0]!.address) === addressKey(from.address)
      ? await openPgpKeysIn(fields[0]!.key)
      : [];
  const attached = (
    await Promise.all(
      files
        .filter(looksLikeKey)
        .slice(0, MAX_FILES)
        .map(({ bytes }) => openPgpKeysIn(bytes)),
    )
  ).flat();
  const written = text.includes('-----BEGIN PGP PUBLIC KEY BLOCK-----')
    ? await openPgpKeysIn(new TextEncoder().encode(text))
    : [];
  const all = [
    ...attached.map((key) => ({ key, from: 'mail' as const })),
    ...written.map((key) => ({ key, from: 'text' as const })),
    ...field.map((key) => ({ key, from: 'autocrypt' as const })),
  ];
  return all.filter(({ key }, index) => all.findIndex((one) => one.key.fingerprint === key.fingerprint) === index);
}

export async function judgedAlong(
  found: readonly { key: OpenPgpKey; from: KeyAlong['from'] }[],
  address: string | undefined,
  now: Date,
): Promise<KeyAlong[]> {
  const verdicts = await keyJudge.judge(
    found.map(({ key }) => ({ key, use: 'encrypt', compared: false, ...defined({ address }) })),
    now,
  );
  return found.map(({ key, from }, index) => ({
    from,
    view: keyView(key, now),
    verdict: keyVerdictView(verdicts[index]!),
  }));
}

/** A signature that lies beside a file. */
export async function beside(signature: Bytes, content: Bytes, now: Date): Promise<OpenPgpSignerView[] | undefined> {
  const bytes = onlyBlock(signature, 'SIGNATURE') ?? signature;
  const about = await session();
  const checks = await checkApart(bytes, content, async (keyId) =>
    (await about.find(keyId)).map(({ key }) => key),
  ).catch(() => undefined);
  return checks === undefined
    ? undefined
    : views(
        checks.map((check) => ({ check, apart: false })),
        undefined,
        about,
        new Set(),
        now,
      );
}
