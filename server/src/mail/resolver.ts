/** Whom to ask about names: the setting's, else whoever this machine asks. */
import { Resolver } from 'node:dns/promises';

const ANSWER_MS = 1_500;

/** @param dns As `address:port` */
export function resolverAt(dns: string | undefined): Resolver {
  const resolver = new Resolver({ timeout: ANSWER_MS, tries: 2 });
  if (dns !== undefined) resolver.setServers([dns]);
  return resolver;
}
