/** Formats of Intl, kept once made: making one takes several times as long as using it, and a list uses thousands. */
const kept = new Map<string, unknown>();

/** There are as many as there are languages, zones and kinds of date. @throws RangeError for a zone that is none */
function once<Format>(key: unknown, make: () => Format): Format {
  const name = JSON.stringify(key);
  const known = kept.get(name) as Format | undefined;
  if (known !== undefined) return known;
  const made = make();
  kept.set(name, made);
  return made;
}

export const dateFormat = (locale: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat =>
  once(['date', locale, options], () => new Intl.DateTimeFormat(locale, options));

/** "in 2 days", "1 day ago". */
export const distanceFormat = (locale: string): Intl.RelativeTimeFormat =>
  once(['distance', locale], () => new Intl.RelativeTimeFormat(locale, { numeric: 'always' }));
