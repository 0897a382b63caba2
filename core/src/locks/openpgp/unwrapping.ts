/** The way off OpenPGP (RFC 3156, or armour in text), a step at a time. */
import { type Unwrapping } from '../layer';
import { bareForm, formOf, holdsArmour, isMessageNamed, isMessagePart } from './form';

export const unwrapping: Unwrapping = {
  async bare(bytes, { openpgp }) {
    const form = openpgp === undefined ? undefined : bareForm(bytes);
    if (form === undefined) return undefined;
    const contentType = { type: 'application/octet-stream', parameters: new Map() };
    return openpgp!(form, { bytes, body: bytes, fields: [], contentType });
  },
  async next(entity, { openpgp }) {
    const form = openpgp === undefined ? undefined : formOf(entity);
    return form === undefined ? undefined : openpgp!(form, entity);
  },
  isPart: (part) => formOf(part) !== undefined || holdsArmour(part) || (isMessageNamed(part) && isMessagePart(part)),
  isWithin: holdsArmour,
};
