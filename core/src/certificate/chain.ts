/** Who stands above a certificate, as the names say; whether it is so is judged elsewhere. */
interface Named {
  subject: { key: string };
  issuer: { key: string };
}

const MOST = 10;

/**
 * Its issuer, that one's, and so on among those at hand, each once: strangers' certificates may name one another in a
 * circle.
 */
export function chainAbove<T extends Named>(certificate: T, others: readonly T[]): T[] {
  const chain: T[] = [];
  for (let current = certificate; chain.length < MOST;) {
    const issuer = others.find((one) => one.subject.key === current.issuer.key && !chain.includes(one));
    if (issuer === undefined) break;
    chain.push(issuer);
    current = issuer;
  }
  return chain;
}
