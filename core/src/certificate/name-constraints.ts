/**
 * Whether a certificate's names stay within what the authorities above it may issue for (RFC 5280 §4.2.1.10, §6.1.3 b
 * and c).
 */
import { type Certificate } from './certificate';
import { type NameConstraints, type Subtree } from './extensions';
import { attributeOf, type GeneralName, type Name } from './name';

/** The labels of a host, from the top. */
const labels = (host: string): string[] => host.toLowerCase().replace(/\.$/, '').split('.').reverse();
const within = (host: string, base: string): boolean => {
  const [inner, outer] = [labels(host), labels(base)];
  return outer.length <= inner.length && outer.every((label, index) => inner[index] === label);
};

const underName = ({ keys }: Name, base: Name): boolean =>
  base.keys.length <= keys.length && base.keys.every((key, index) => keys[index] === key);

/** A mailbox, all of a host (`host.example`), or all of the hosts under one (`.host.example`). */
function mailWithin(address: string, base: string): boolean {
  const at = address.lastIndexOf('@');
  const host = address.slice(at + 1).toLowerCase();
  if (base.includes('@')) {
    const baseAt = base.lastIndexOf('@');
    return address.slice(0, at) === base.slice(0, baseAt) && host === base.slice(baseAt + 1).toLowerCase();
  }
  return base.startsWith('.')
    ? host !== base.slice(1).toLowerCase() && within(host, base.slice(1))
    : host === base.toLowerCase();
}

/**
 * The host in a URI's authority; undefined when it has none, or an address in numbers, for which no constraint is
 * defined.
 */
function hostOf(uri: string): string | undefined {
  const authority = /^[a-z][a-z\d+.-]*:\/\/([^/?#]*)/i.exec(uri)?.[1];
  const host = authority?.replace(/^.*@/, '').replace(/:\d*$/, '');
  return host === undefined || host === '' || host.startsWith('[') || /^[\d.]+$/.test(host) ? undefined : host;
}

/** An address under a base of address and mask. */
function ipWithin(address: Uint8Array, base: Uint8Array): boolean {
  const half = base.length / 2;
  return (
    address.length === half &&
    address.every((octet, index) => (octet & base[half + index]!) === (base[index]! & base[half + index]!))
  );
}

/** Undefined when the two are of different kinds and say nothing about each other. */
function matches(name: GeneralName, base: GeneralName): boolean | undefined {
  // Kinds we can't compare: as good as outside.
  if (name.kind === 'other' && base.kind === 'other') return name.tag === base.tag ? false : undefined;
  if (name.kind !== base.kind) return undefined;
  switch (name.kind) {
    case 'directory':
      return underName(name.name, (base as typeof name).name);
    case 'email':
      return mailWithin(name.value, (base as typeof name).value);
    case 'dns':
      return (base as typeof name).value === '' || within(name.value, (base as typeof name).value);
    case 'uri': {
      const host = hostOf(name.value);
      const { value } = base as typeof name;
      if (host === undefined) return false;
      return value.startsWith('.')
        ? within(host, value.slice(1)) && host.toLowerCase() !== value.slice(1).toLowerCase()
        : host.toLowerCase() === value.toLowerCase();
    }
    case 'ip':
      return ipWithin(name.bytes, (base as typeof name).bytes);
    case 'other':
      return undefined;
  }
}

const permits = (name: GeneralName, subtrees: readonly Subtree[]): boolean => {
  const judged = subtrees.map(({ base }) => matches(name, base)).filter((one) => one !== undefined);
  return judged.length === 0 || judged.includes(true);
};

/** A name that can't be compared with an exclusion of its own kind counts as excluded. */
const excludes = (name: GeneralName, subtrees: readonly Subtree[]): boolean =>
  subtrees.some(
    ({ base }) =>
      matches(name, base) === true ||
      (base.kind === 'other' && name.kind === 'other' && base.tag === name.tag) ||
      (name.kind === 'uri' && base.kind === 'uri' && hostOf(name.value) === undefined),
  );

function namesOf({ subject, altNames }: Certificate): GeneralName[] {
  const names: GeneralName[] = [...altNames];
  if (subject.rdns.length > 0) names.push({ kind: 'directory', name: subject });
  const mail = attributeOf(subject, 'emailAddress');
  if (mail !== undefined && !altNames.some(({ kind }) => kind === 'email')) names.push({ kind: 'email', value: mail });
  return names;
}

/** @param above What each authority above it allows; all of them count. */
export function namesAllowed(certificate: Certificate, above: readonly NameConstraints[]): boolean {
  const names = namesOf(certificate);
  return above.every(
    ({ permitted, excluded, odd }) =>
      !odd && names.every((name) => permits(name, permitted) && !excludes(name, excluded)),
  );
}
