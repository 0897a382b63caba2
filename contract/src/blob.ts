/** Sealed bytes, uploaded in parts that may be repeated: a cut upload goes on where it stopped. */
import { z } from 'zod';
import { endpoint, id, rawBytes } from './endpoint';

export const PART_BYTES = 1_048_576;
/** A message of the largest allowed size in base64, sealed, with room to spare. */
export const MAX_BLOB_BYTES = 160 * 1_048_576;

const partParams = z.object({
  id,
  index: z.coerce
    .number()
    .int()
    .min(0)
    .max(MAX_BLOB_BYTES / PART_BYTES),
});

export const startBlob = endpoint({
  method: 'POST',
  path: '/api/blobs',
  access: 'worker',
  byDoor: true,
  body: z.object({ id, size: z.number().int().min(1).max(MAX_BLOB_BYTES) }),
  reply: z.object({ received: z.array(z.number().int()) }),
});
export const putPart = endpoint({
  method: 'PUT',
  path: '/api/blobs/:id/parts/:index',
  access: 'worker',
  byDoor: true,
  params: partParams,
  body: rawBytes,
});
export const getPart = endpoint({
  method: 'GET',
  path: '/api/blobs/:id/parts/:index',
  access: 'worker',
  byDoor: true,
  params: partParams,
  reply: rawBytes,
});
export const getBlob = endpoint({
  method: 'GET',
  path: '/api/blobs/:id',
  access: 'worker',
  byDoor: true,
  params: z.object({ id }),
  reply: z.object({ size: z.number(), received: z.array(z.number()) }),
});
export const deleteBlob = endpoint({
  method: 'DELETE',
  path: '/api/blobs/:id',
  access: 'worker',
  byDoor: true,
  params: z.object({ id }),
});

export const partCount = (size: number): number => Math.ceil(size / PART_BYTES);
