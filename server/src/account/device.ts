/**
 * Browsers that have signed in before. A cookie says for which addresses, each with a keyed hash that only we can make;
 * whoever has it has a budget of tries of their own, so that nobody else's guesses keep them out. It proves nothing
 * more, and names nobody.
 */
import { randomBytes, timingSafeEqual } from 'node:crypto';
import { addressKey } from '@under-lock/core/people/address';
import { type Context } from '../context';

const MAX_ADDRESSES = 5;
export const DEVICE_LIFE_MS = 400 * 86_400_000;
const SPELLED = /^[\w-]{22}(?:\.[\w-]{22}){1,5}$/;

const markFor = (context: Context, id: string, address: string): Buffer =>
  context.secrets.keyedHash('known-device', `${addressKey(address)}|${id}`).subarray(0, 16);

function read(cookie: string | undefined): { id: string; marks: string[] } | undefined {
  if (cookie === undefined || !SPELLED.test(cookie)) return undefined;
  const [id, ...marks] = cookie.split('.') as [string, ...string[]];
  return { id, marks };
}

/** The device's number, if this address has signed in on it before. */
export function knownDevice(context: Context, cookie: string | undefined, address: string): string | undefined {
  const device = read(cookie);
  if (device === undefined) return undefined;
  const marks = context.secrets
    .keyedHashes('known-device', `${addressKey(address)}|${device.id}`)
    .map((hash) => hash.subarray(0, 16));
  return device.marks.some((one) => marks.some((mark) => timingSafeEqual(Buffer.from(one, 'base64url'), mark)))
    ? device.id
    : undefined;
}

/** The cookie from now on, after `address` has signed in. */
export function rememberedDevice(context: Context, cookie: string | undefined, address: string): string {
  const { id, marks } = read(cookie) ?? { id: randomBytes(16).toString('base64url'), marks: [] };
  const mark = markFor(context, id, address).toString('base64url');
  return [id, ...[mark, ...marks.filter((one) => one !== mark)].slice(0, MAX_ADDRESSES)].join('.');
}
