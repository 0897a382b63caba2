/** The OpenPGP lock. Sealing, and with it the library, is loaded when there is something to seal. */
import { z } from 'zod';
import { type Bytes, fromBase64Url } from '../../bytes';
import { OPENPGP_FORMS } from '../../ways/mail-form';
import { addressKey } from '../../people/address';
import { personAt } from '../../people/find';
import { type CopyReason, copiesOf } from '../copy';
import { type CopyLock } from '../lock';
import { assessOpenPgp, type OpenPgpAssessment } from './assess';
import { type OpenPgpOrder } from './order';

const howSchema = z.object({ form: z.enum(OPENPGP_FORMS) });

export const openPgpLock: CopyLock<
  'openpgp',
  OpenPgpAssessment['missing'][number],
  OpenPgpAssessment['warnings'][number],
  CopyReason,
  OpenPgpOrder
> = {
  lock: 'openpgp',
  gives: 'copy',
  assess: assessOpenPgp,
  want: (lines, { people }) =>
    copiesOf('openpgp', lines, ({ chosen, recipient: { address } }): z.infer<typeof howSchema> => ({
      form: chosen.clear === true ? 'mime' : (personAt(people, address)?.value.mailForm ?? 'mime'),
    })),
  order({ clear, how, recipients }, { known: { keys }, neutralSubject }) {
    const theirs = (): Bytes[] =>
      recipients.map(({ address }) => fromBase64Url(keys.get(addressKey(address))!.kept.key));
    return {
      lock: 'openpgp',
      recipients: clear ? 'clear' : theirs(),
      form: clear ? 'mime' : howSchema.parse(how).form,
      neutralSubject,
    };
  },
  seal: async (...given) => (await import('./seal')).sealOpenPgpCopy(...given),
  recognise: async (mail) => (await import('./recognise')).recogniseOpenPgp(mail),
  unwrapping: async () => (await import('./unwrapping')).unwrapping,
};
