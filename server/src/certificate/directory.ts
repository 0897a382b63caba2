/**
 * The directory the office looks people up in: one documented HTTP call, answering entries as an LDAP directory has
 * them (RFC 4523 `userCertificate`).
 */
import { z } from 'zod';
import { type Context } from '../context';
import { Problem } from '../problem';
import { askDoor, WebError } from './web';

const base64 = z
  .string()
  .max(400_000)
  .transform((text) => new Uint8Array(Buffer.from(text, 'base64')));
const answerSchema = z.object({
  entries: z
    .array(
      z.object({
        name: z.string().max(300),
        organization: z.string().max(300),
        mail: z.string().max(320),
        certificates: z.array(base64).max(10),
      }),
    )
    .max(50),
});

/** @throws Problem `unreachable` */
export async function searchDirectory(
  context: Context,
  { address, name }: { address?: string | undefined; name?: string | undefined },
) {
  const query =
    address !== undefined ? `mail=${encodeURIComponent(address)}` : `name=${encodeURIComponent(name ?? '')}`;
  try {
    const answer = await askDoor(
      context,
      'directory',
      `${context.config.directoryUrl}/people?${query}`,
      2 * 1024 * 1024,
    );
    return answerSchema
      .parse(JSON.parse(answer.toString('utf8')))
      .entries.map(({ mail, ...entry }) => ({ ...entry, address: mail }));
  } catch (cause) {
    if (!(cause instanceof WebError || cause instanceof z.ZodError || cause instanceof SyntaxError)) throw cause;
    throw new Problem('unreachable', 502, 'The directory does not answer', {
      detail:
        'The directory does not answer as it should. Ask them for a signed mail instead, or add their certificate from a file.',
    });
  }
}
