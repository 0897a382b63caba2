/**
 * Opens sealed mail layer by layer, and says of what is shown only what the layers around all of it vouch for. A
 * signed or encrypted part beside others vouches for nothing and
 * stays closed: text around it could speak in its name, or carry what it says elsewhere.
 */
import { type HeldKey } from '../cms/enveloped-data';
import { CmsError } from '../cms/errors';
import { concat, utf8 } from '../bytes';
import { type MessageContent } from '../message/content';
import {
  decodedBody,
  type Entity,
  EntityError,
  fieldNamed,
  fieldsNamed,
  partsOf,
  readEntity,
  withoutFields,
} from '../message/entity';
import { readMessage } from '../message/read';
import { OpenPgpError } from '../openpgp/errors';
import { unwrappings } from './index';
import { type Layer, type OpenedLayers, type OpenPgpOpener, UnwrapError, type Unwrapping } from './layer';

export interface Unwrapped {
  layers: readonly Layer[];
  message: MessageContent;
  /** Who it says it is from outside, as far as it does: each From field there. */
  outerFrom: readonly string[];
  /** The header shown is the one inside the innermost layer. */
  headerProtected: boolean;
  /** Header fields that stand otherwise outside than inside says they should (RFC 9788 §4.3). */
  changedOutside: readonly string[];
  /** Parts that are signed or encrypted on their own, beside others: shown as files, not believed. */
  partsOnTheirOwn: number;
}

export { type Layer, type OpenPgpOpener, UnwrapError, type UnwrapErrorCode } from './layer';
export const MAX_LAYERS = 8;

function failure(cause: unknown, layers: readonly Layer[]): unknown {
  if (cause instanceof CmsError) return new UnwrapError(cause.code, layers, { cause });
  if (cause instanceof OpenPgpError)
    return new UnwrapError(
      cause.code === 'too-large' || cause.code === 'wrong-passphrase' ? 'malformed' : cause.code,
      layers,
      { cause },
    );
  if (cause instanceof EntityError) return new UnwrapError('malformed', layers, { cause });
  return cause;
}

/** Fields of the message's own header; those of its content belong to the part. */
const isContentField = (name: string): boolean => name.startsWith('content-') || name === 'mime-version';
const normal = (value: string): string => value.replace(/\s+/g, ' ').trim();

/**
 * Outer fields that are not what `HP-Outer` says stood outside when it was sealed, or, without it, differ from the
 * inner ones.
 */
function changed(outer: Entity, inner: Entity): string[] {
  const stated = fieldsNamed(inner, 'HP-Outer').map(({ value }) => {
    const colon = value.indexOf(':');
    return { name: value.slice(0, colon).trim().toLowerCase(), value: normal(value.slice(colon + 1)) };
  });
  const checked = ['from', 'to', 'cc', 'subject', 'date', 'message-id'];
  return checked.filter((name) => {
    const outside = fieldsNamed(outer, name).map(({ value }) => normal(value));
    const expected =
      stated.length > 0
        ? stated.filter((one) => one.name === name).map(({ value }) => value)
        : fieldsNamed(inner, name).map(({ value }) => normal(value));
    return outside.length !== expected.length || outside.some((value, index) => value !== expected[index]);
  });
}

const MAX_LOOKED_AT = 200;
/** Signed or encrypted parts inside a multipart, at any depth within reason. */
function partsOnTheirOwn(entity: Entity, ways: readonly Unwrapping[]): number {
  let count = 0;
  let looked = 0;
  const look = (one: Entity, depth: number): void => {
    if (depth > 10 || !one.contentType.type.startsWith('multipart/')) return;
    let parts: Uint8Array[];
    try {
      parts = partsOf(one);
    } catch {
      return;
    }
    for (const part of parts) {
      if (++looked > MAX_LOOKED_AT) return;
      const inner = readEntity(part);
      if (ways.some((way) => way.isPart(inner))) count += 1;
      else look(inner, depth + 1);
    }
  };
  look(entity, 0);
  return count + (ways.some((way) => way.isWithin(entity)) ? 1 : 0);
}

async function first(
  ways: readonly Unwrapping[],
  take: (way: Unwrapping) => Promise<OpenedLayers | undefined>,
): Promise<OpenedLayers | undefined> {
  for (const way of ways) {
    const opened = await take(way);
    if (opened !== undefined) return opened;
  }
  return undefined;
}

/**
 * @param bytes A whole mail (RFC 5322); or a CMS object or an OpenPGP message alone, as a file.
 * @param held Our keys with their certificates, old ones too.
 * @throws UnwrapError; MessageReadError when what is inside is no mail
 */
export async function unwrapMail(
  bytes: Uint8Array,
  held: readonly HeldKey[],
  openpgp?: OpenPgpOpener,
): Promise<Unwrapped> {
  const layers: Layer[] = [];
  const means = { held, openpgp };
  const ways = await unwrappings();
  const next = (entity: Entity): Promise<OpenedLayers | undefined> => first(ways, (way) => way.next(entity, means));
  try {
    const bare = await first(ways, (way) => way.bare(bytes, means));
    const outer = readEntity(bare === undefined ? bytes : utf8('Content-Type: application/octet-stream\r\n\r\n'));
    let entity = outer;
    let steps = 0;
    for (let opened = bare ?? (await next(entity)); opened !== undefined; opened = await next(entity)) {
      layers.push(...opened.layers);
      entity = readEntity(opened.inner);
      // Steps are counted, too: something packed may unfold to itself without a layer of its own.
      if (layers.length > MAX_LAYERS || ++steps > MAX_LAYERS)
        throw new UnwrapError('too-deep', layers.slice(0, MAX_LAYERS));
    }
    return {
      layers,
      ...(await shown(outer, entity, layers.length > 0)),
      outerFrom: fieldsNamed(outer, 'from').map(({ value }) => value),
      partsOnTheirOwn: partsOnTheirOwn(entity, ways),
    };
  } catch (cause) {
    throw cause instanceof UnwrapError ? cause : failure(cause, layers);
  }
}

/** What a reader sees: the inner header where it is protected, else the outer one around the innermost content. */
async function shown(
  outer: Entity,
  inner: Entity,
  wrapped: boolean,
): Promise<Pick<Unwrapped, 'message' | 'headerProtected' | 'changedOutside'>> {
  if (!wrapped)
    return {
      message: await readMessage(outer.bytes as Uint8Array<ArrayBuffer>),
      headerProtected: false,
      changedOutside: [],
    };
  if (inner.contentType.type === 'message/rfc822') {
    // The old way of protecting a header: the whole mail inside (RFC 8551 §3.1).
    const whole = readEntity(decodedBody(inner));
    return {
      message: await readMessage(whole.bytes.slice()),
      headerProtected: true,
      changedOutside: outer.fields.length > 1 ? changed(outer, whole).filter((name) => name === 'from') : [],
    };
  }
  const headerProtected = inner.contentType.parameters.has('hp') && fieldNamed(inner, 'from') !== undefined;
  if (headerProtected)
    return {
      message: await readMessage(inner.bytes.slice()),
      headerProtected,
      changedOutside: outer.fields.length > 1 ? changed(outer, inner) : [],
    };
  const header = withoutFields(outer, isContentField);
  const content = withoutFields(inner, (name) => !isContentField(name));
  return {
    message: await readMessage(concat(header, content, utf8('\r\n'), inner.body)),
    headerProtected,
    changedOutside: [],
  };
}
