/** An authority that only this worker trusts, as it lies sealed in the vault. */
import { z } from 'zod';

export const ownAnchorSchema = z.object({ /** DER, base64url. */ certificate: z.string(), addedAt: z.string() });
export type OwnAnchor = z.infer<typeof ownAnchorSchema>;
