/** The office book: people whom the whole office knows, sealed under the office's own key (docs/decisions/26). */
import { type DirectoryEntry } from '@under-lock/core/office-book/exchange';
import { MOST_CERTIFICATE } from '@under-lock/core/choosing/choice';
import { type Resealed } from '@under-lock/core/office-book/renewal';
import { BOOK_KINDS } from '@under-lock/core/vault/item';
import { LOT_ITEMS } from '@under-lock/core/vault/limits';
import { type VaultDoor } from '@under-lock/core/vault/door';
import { z } from 'zod';
import { type Client } from './client';
import { bytes, endpoint, id, instant, line } from './endpoint';
import { publicKeySchema } from './keys';
import { isProblem } from './problem';
import { givenManifestOf, MAX_ITEM_BYTES, nextManifestOf, vaultItemSchema, wholeList } from './vault';

/** In the whole book. */
export const MOST_IN_BOOK = 20_000;
export const MAX_BOOK_BYTES = 40_000_000;

/** Names every item: some fifty octets each. */
const MAX_MANIFEST = 3_500_000;
/** Of what is sealed anew, what one request carries. */
const LOT_BYTES = 4_000_000;

const sealed = bytes(29, MAX_ITEM_BYTES);
const revision = z.number().int().min(0);
const epoch = z.number().int().min(1);
const nextManifest = nextManifestOf(MAX_MANIFEST);
/** With which counting begins anew. */
const wholeManifest = z.object({ revision, whole: bytes(29, MAX_MANIFEST) });
const givenManifest = givenManifestOf(MAX_MANIFEST);
const known = z.coerce.number().int().min(0).optional();
const sealedKey = bytes(60, 2_000);
const bookItemSchema = vaultItemSchema.extend({ by: z.object({ id, name: z.string() }).optional() });

const memberSchema = z.object({
  id,
  letInAt: instant,
  /** Nobody where they made the key. */
  letInBy: z.string().optional(),
});

/** Where one stands with the book. */
export const getOfficeBook = endpoint({
  method: 'GET',
  path: '/api/office-book',
  access: 'worker',
  versioned: true,
  reply: z.object({
    /** Nobody has begun one where there is none. */
    key: publicKeySchema.extend({ epoch }).optional(),
    /** The office's secret, sealed to the asker; only for members. */
    sealedKey: sealedKey.optional(),
    /** Of each kind's manifest, for members: another one means that something was changed. */
    revisions: z.partialRecord(z.enum(BOOK_KINDS), revision).optional(),
    members: z.array(memberSchema),
    /** Colleagues whom an administrator has let out. */
    out: z.array(id),
    /** For members: the door for mail programs, where the office has one, and since when it has the key. */
    door: publicKeySchema.extend({ letIn: z.object({ at: instant, by: z.string().optional() }).optional() }).optional(),
    /** Somebody left who had the key: the next member's browser makes a new one. */
    renew: z.boolean(),
    /** The office has a directory of its own that people can be brought in from. */
    directory: z.boolean(),
  }),
});
/** Strangers' words, looked at in the browser before they are taken. */
const directoryEntrySchema = z.object({
  name: z.string(),
  addresses: z.array(z.string()),
  firm: z.string(),
  phones: z.array(z.string()),
  language: z.string(),
  certificates: z.array(bytes(1, MOST_CERTIFICATE)),
}) satisfies z.ZodType<DirectoryEntry>;
/** Of the office's own directory (LDAP). @see not-found where it has none; busy, unreachable */
export const searchOfficeDirectory = endpoint({
  method: 'GET',
  path: '/api/office-book/directory',
  access: 'worker',
  /** What name, address, firm or department holds; all of them where it is empty. */
  query: z.object({ holding: line(100).optional() }),
  reply: z.object({
    people: z.array(directoryEntrySchema),
    /** There are others: something narrower is to be looked for. */
    more: z.boolean(),
    /** How often it said that some lie in another directory, which is not asked. */
    elsewhere: z.number().int(),
  }),
});

/** The office's first key. @see conflict when there is one */
export const beginOfficeBook = endpoint({
  method: 'POST',
  path: '/api/office-book',
  access: 'administrator',
  body: publicKeySchema.extend({ sealedKey }),
});
/** By a member. One who is in already is let in again without a word. @see not-member, key-renewed, not-found */
export const letIn = endpoint({
  method: 'POST',
  path: '/api/office-book/members/:id',
  access: 'worker',
  params: z.object({ id }),
  body: z.object({ epoch, sealedKey }),
});
/** The door with this key, by a member. @see not-member, key-renewed; conflict where it has another key by now */
export const letDoorIn = endpoint({
  method: 'PUT',
  path: '/api/office-book/door',
  access: 'worker',
  body: z.object({ epoch, sealedKey, publicKey: bytes(32, 2000) }),
});
export const letDoorOut = endpoint({ method: 'DELETE', path: '/api/office-book/door', access: 'administrator' });
/** For the door, in the name of a member: what it opens the book with. None where it or they are not in. */
export const getDoorBook = endpoint({
  method: 'GET',
  path: '/api/submission/book',
  access: 'worker',
  byDoor: true,
  reply: z.object({
    book: z.object({ epoch, sealedKey, revisions: z.partialRecord(z.enum(BOOK_KINDS), revision) }).optional(),
  }),
});
/** From then on the server gives them nothing of it; the last member stays. @see conflict, not-found */
export const letOut = endpoint({
  method: 'DELETE',
  path: '/api/office-book/members/:id',
  access: 'administrator',
  params: z.object({ id }),
});
/** They may be let in again. */
export const mayBeLetIn = endpoint({
  method: 'PUT',
  path: '/api/office-book/members/:id',
  access: 'administrator',
  params: z.object({ id }),
});
/**
 * A new key for those who stay, which nobody uses before it is finished. One that was begun and left is begun anew.
 * @see key-renewed; busy while somebody else is at it
 */
export const beginRenewal = endpoint({
  method: 'POST',
  path: '/api/office-book/renewals',
  access: 'worker',
  maxBytes: 7_900_000,
  body: z.object({
    /** The one it replaces. */
    epoch,
    /** Told apart from another try, which would seal under another key. */
    renewal: id,
    key: publicKeySchema,
    members: z.array(z.object({ id, sealedKey })).min(1).max(3_000),
  }),
});
/** Items sealed anew, some at a time. @see key-renewed */
export const putRenewed = endpoint({
  method: 'PUT',
  path: '/api/office-book/renewals/:kind',
  access: 'worker',
  maxBytes: 7_900_000,
  params: z.object({ kind: z.enum(BOOK_KINDS) }),
  body: z.object({ epoch, renewal: id, items: z.array(z.object({ id, revision, sealed })).max(LOT_ITEMS) }),
});
/** From then on it is the office's key. @see key-renewed; manifest-behind when something was changed meanwhile */
export const finishRenewal = endpoint({
  method: 'POST',
  path: '/api/office-book/renewals/finish',
  access: 'worker',
  maxBytes: 7_900_000,
  body: z.object({
    epoch,
    renewal: id,
    kinds: z.array(z.object({ kind: z.enum(BOOK_KINDS), manifest: wholeManifest })),
  }),
});

/** All three steps. @throws ApiProblem, and the key of before stays */
export async function renewInParts(client: Client, epochBefore: number, made: Resealed): Promise<void> {
  const of = { epoch: epochBefore, renewal: globalThis.crypto.randomUUID() };
  await client(beginRenewal, { body: { ...of, key: made.key, members: made.members } });
  for (const { kind, items } of made.kinds) {
    let lot: typeof items = [];
    let octets = 0;
    const put = async (): Promise<void> => {
      await client(putRenewed, { params: { kind }, body: { ...of, items: lot } });
      lot = [];
      octets = 0;
    };
    for (const item of items) {
      if (lot.length === LOT_ITEMS || (lot.length > 0 && octets + item.sealed.length > LOT_BYTES)) await put();
      lot.push(item);
      octets += item.sealed.length;
    }
    if (lot.length > 0) await put();
  }
  const kinds = made.kinds.map(({ kind, manifest }) => ({ kind, manifest }));
  await client(finishRenewal, { body: { ...of, kinds } });
}

/** As a vault's list, and of which key. @see not-member */
export const listBook = endpoint({
  method: 'GET',
  path: '/api/office-book/items/:kind',
  access: 'worker',
  byDoor: true,
  params: z.object({ kind: z.enum(BOOK_KINDS) }),
  query: z.object({ after: id.optional(), known, since: known }),
  reply: z.object({ epoch, items: z.array(bookItemSchema), next: id.optional(), manifest: givenManifest }),
});
export const getBookItem = endpoint({
  method: 'GET',
  path: '/api/office-book/items/:kind/:id',
  access: 'worker',
  params: z.object({ kind: z.enum(BOOK_KINDS), id }),
  query: z.object({ known }),
  reply: z.object({ epoch, item: bookItemSchema.optional(), manifest: givenManifest }),
});
/** @see conflict, manifest-behind, key-renewed, storage-full */
export const putBookItem = endpoint({
  method: 'PUT',
  path: '/api/office-book/items/:kind/:id',
  access: 'worker',
  maxBytes: 7_900_000,
  params: z.object({ kind: z.enum(BOOK_KINDS), id }),
  body: z.object({ epoch, revision, sealed, manifest: nextManifest }),
  reply: z.object({ revision }),
});
/** Several at once: all of them, or none. @see conflict, manifest-behind, key-renewed, storage-full */
export const putBookItems = endpoint({
  method: 'POST',
  path: '/api/office-book/items/:kind',
  access: 'worker',
  maxBytes: 7_900_000,
  params: z.object({ kind: z.enum(BOOK_KINDS) }),
  body: z.object({
    epoch,
    items: z.array(z.object({ id, revision, sealed })).min(1).max(LOT_ITEMS),
    manifest: nextManifest,
  }),
});
export const dropBookItem = endpoint({
  method: 'POST',
  path: '/api/office-book/items/:kind/:id/drop',
  access: 'worker',
  maxBytes: 6_000_000,
  params: z.object({ kind: z.enum(BOOK_KINDS), id }),
  body: z.object({ epoch, manifest: nextManifest }),
});

/** Counts anew what is there: after a backup was restored, when a member has said so. @see manifest-behind, key-renewed */
export const putBookManifest = endpoint({
  method: 'PUT',
  path: '/api/office-book/manifests/:kind',
  access: 'worker',
  maxBytes: 6_000_000,
  params: z.object({ kind: z.enum(BOOK_KINDS) }),
  body: z.object({ epoch, manifest: wholeManifest }),
});

const bookKind = z.enum(BOOK_KINDS);
/**
 * The server's side of the book's shelf.
 *
 * @param epochNow Of the key that is being sealed under. @param met Told the epoch of every answer.
 */
export function bookDoor(client: Client, epochNow: () => number, met: (epoch: number) => Promise<void>): VaultDoor {
  return {
    list: (kind, knownRevision, since) =>
      wholeList(async (after) => {
        const page = await client(listBook, {
          params: { kind: bookKind.parse(kind) },
          query: { ...(after === undefined ? { known: knownRevision } : { after }), since },
        });
        await met(page.epoch);
        return page;
      }),
    async read(kind, itemId, knownRevision) {
      const found = await client(getBookItem, {
        params: { kind: bookKind.parse(kind), id: itemId },
        query: { known: knownRevision },
      });
      await met(found.epoch);
      return found;
    },
    async put(kind, itemId, { manifest, ...change }) {
      await client(putBookItem, {
        params: { kind: bookKind.parse(kind), id: itemId },
        body: { epoch: epochNow(), ...change, manifest: manifest! },
      });
    },
    putAll: async (kind, items, manifest) =>
      void (await client(putBookItems, {
        params: { kind: bookKind.parse(kind) },
        body: { epoch: epochNow(), items: [...items], manifest },
      })),
    drop: async (kind, itemId, manifest) =>
      void (await client(dropBookItem, {
        params: { kind: bookKind.parse(kind), id: itemId },
        body: { epoch: epochNow(), manifest },
      })),
    putManifest: async (kind, { revision: replaced, whole }) =>
      void (await client(putBookManifest, {
        params: { kind: bookKind.parse(kind) },
        body: { epoch: epochNow(), manifest: { revision: replaced, whole: whole! } },
      })),
    isBehind: (error) => isProblem(error, 'manifest-behind') || isProblem(error, 'key-renewed'),
  };
}
