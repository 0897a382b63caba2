/** The phone door: two documented HTTP calls (docs/formats.md), so that any operator's gateway can stand behind it. */
export interface PhoneDoor {
  /** A text message. True when the gateway took it. */
  text(to: string, text: string, id: string): Promise<boolean>;
  /** A call in which `say` is read out in `language`. True when the gateway took it. */
  call(to: string, say: string, language: string, id: string): Promise<boolean>;
}

export function createPhoneDoor({ textUrl, callUrl, token }: { textUrl: string; callUrl: string; token: string | undefined }): PhoneDoor {
  const post = async (url: string, id: string, body: object): Promise<boolean> => {
    try {
      const response = await fetch(url, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', 'Idempotency-Key': id, ...(token === undefined ? {} : { Authorization: `Bearer ${token}` }) },
        body: JSON.stringify(body),
        signal: AbortSignal.timeout(10_000),
      });
      return response.ok;
    } catch {
      return false; // no answer is an answer here: the caller says that the passcode did not go out
    }
  };
  return {
    text: (to, text, id) => post(textUrl, id, { to, text }),
    call: (to, say, language, id) => post(callUrl, id, { to, say, language }),
  };
}
