/** The text-message door: one documented HTTP call (docs/formats.md), so that any operator's gateway can stand behind it. */
export interface PhoneDoor {
  /** True when the gateway took it. */
  text(to: string, text: string, id: string): Promise<boolean>;
}

export function createPhoneDoor(url: string, token: string | undefined): PhoneDoor {
  return {
    async text(to, text, id) {
      try {
        const response = await fetch(url, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json', 'Idempotency-Key': id, ...(token === undefined ? {} : { Authorization: `Bearer ${token}` }) },
          body: JSON.stringify({ to, text }),
          signal: AbortSignal.timeout(10_000),
        });
        return response.ok;
      } catch {
        return false; // no answer is an answer here: the caller says that the passcode did not go out
      }
    },
  };
}
