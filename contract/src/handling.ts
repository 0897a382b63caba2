/** Handling presets: the office's own handlings. Everybody may read them, administrators make them. */
import { presetTermsSchema as coreTerms } from '@under-lock/core/handling/preset';
import { z } from 'zod';
import { endpoint, id, line } from './endpoint';

export const MAX_PRESETS = 40;

const shape = {
  name: line(60).min(1),
  /** What it does and when to use it, in one sentence. */
  sentence: line(240).min(1),
  terms: coreTerms,
  /** Switched off: kept, and offered to nobody. */
  active: z.boolean(),
};
export const presetSchema = z.object({
  id,
  ...shape,
  isDefault: z.boolean(),
  /** For other departments than the asker's: known, because rules may ask for it, and not to be chosen. */
  others: z.boolean(),
});
export type Preset = z.infer<typeof presetSchema>;

export const listPresets = endpoint({
  method: 'GET',
  path: '/api/presets',
  access: 'worker',
  byDoor: true,
  reply: z.object({ presets: z.array(presetSchema) }),
});
export const putPreset = endpoint({
  method: 'PUT',
  path: '/api/presets/:id',
  access: 'administrator',
  params: z.object({ id }),
  body: z.object({ ...shape, /** The change counts for what is held, too. */ alsoHeld: z.boolean().optional() }),
});
/** All of them, in the order workers are to see them. */
export const orderPresets = endpoint({
  method: 'POST',
  path: '/api/presets/order',
  access: 'administrator',
  body: z.object({ ids: z.array(id).max(MAX_PRESETS) }),
});
/** None is an answer too: then a new message begins without one. */
export const setDefaultPreset = endpoint({
  method: 'PUT',
  path: '/api/presets-default',
  access: 'administrator',
  body: z.object({ id: id.optional() }),
});
export const deletePreset = endpoint({
  method: 'DELETE',
  path: '/api/presets/:id',
  access: 'administrator',
  params: z.object({ id }),
});
