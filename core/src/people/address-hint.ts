/** A second address, shown so that its owner knows it and nobody else learns it: `p···@postbox.example`. */
export function addressHint(address: string): string {
  const at = address.lastIndexOf('@');
  return `${[...address.slice(0, at)][0] ?? ''}···${address.slice(at)}`;
}
