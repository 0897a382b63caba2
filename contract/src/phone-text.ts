/**
 * A text message that the office's server never sees: it gives leave, and whoever has the text hands it in at the phone
 * door itself.
 */
import { type Client } from './client';
import { permitText } from './phone';

const ANSWER_MS = 10_000;

/** Whether the gateway took it. @throws ApiProblem where there is no leave */
export async function handInText(
  client: Client,
  to: string,
  text: string,
): Promise<'taken' | 'refused' | 'unreachable'> {
  const { url, permit } = await client(permitText, { body: { to } });
  try {
    const { ok } = await fetch(url, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ permit, text }),
      referrerPolicy: 'no-referrer',
      credentials: 'omit',
      signal: AbortSignal.timeout(ANSWER_MS),
    });
    return ok ? 'taken' : 'refused';
  } catch {
    return 'unreachable';
  }
}
