/**
 * The phone door: a few documented HTTP calls (docs/formats.md), so that any operator's gateway can stand behind it.
 */
import { z } from 'zod';

export interface PhoneDoor {
  /** A text message. True when the gateway took it. */
  text(to: string, text: string, id: string): Promise<boolean>;
  /** Leave to hand in one text to this number at the door itself; undefined when the door gives none. */
  permit(to: string, id: string): Promise<TextPermit | undefined>;
  /** A call in which `say` is read out in `language`. True when the gateway took it. */
  call(to: string, say: string, language: string, id: string): Promise<boolean>;
}

export interface TextPermit {
  url: string;
  permit: string;
}
const permitSchema = z.object({ url: z.url().max(500), permit: z.string().min(1).max(500) });

export function createPhoneDoor({
  textUrl,
  callUrl,
  token,
}: {
  textUrl: string;
  callUrl: string;
  token: string | undefined;
}): PhoneDoor {
  const ask = (url: string, id: string, body: object): Promise<Response> =>
    fetch(url, {
      method: 'POST',
      headers: {
        'Content-Type': 'application/json',
        'Idempotency-Key': id,
        ...(token === undefined ? {} : { Authorization: `Bearer ${token}` }),
      },
      body: JSON.stringify(body),
      signal: AbortSignal.timeout(10_000),
    });
  const post = async (url: string, id: string, body: object): Promise<boolean> => {
    try {
      return (await ask(url, id, body)).ok;
    } catch {
      return false; // no answer is an answer here: the caller says that the passcode did not go out
    }
  };
  const permit = async (to: string, id: string): Promise<TextPermit | undefined> => {
    try {
      const response = await ask(`${textUrl}/permits`, id, { to });
      const parsed = permitSchema.safeParse(response.ok ? await response.json() : undefined);
      // Only the gateway itself: what it names is where browsers will send passwords.
      return parsed.success && new URL(parsed.data.url).origin === new URL(textUrl).origin ? parsed.data : undefined;
    } catch {
      return undefined; // no answer: the caller says that nothing went out
    }
  };
  return {
    permit,
    text: (to, text, id) => post(textUrl, id, { to, text }),
    call: (to, say, language, id) => post(callUrl, id, { to, say, language }),
  };
}
