/** The name at a domain under which keys are looked for (Web Key Directory, the advanced method), and its record. */
export const keyHost = (domain: string): string => `openpgpkey.${domain}`;

/** The record that leads to where an origin is served: an address of it, else another name for it. */
export function pointingAt(origin: string): { type: 'A' | 'AAAA' | 'CNAME'; data: string } {
  const { hostname } = new URL(origin);
  if (hostname.startsWith('[')) return { type: 'AAAA', data: hostname.slice(1, -1) };
  return { type: /^[\d.]+$/.test(hostname) ? 'A' : 'CNAME', data: hostname };
}
