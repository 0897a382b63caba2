/**
 * Mail that answers our request for a signed message: what to do with it, and the way back to the draft that waited for
 * it.
 */
import { getSent } from '@under-lock/contract/outgoing';
import { momentInWords } from '@under-lock/core/when';
import { Banner, Button } from '@under-lock/ui';
import { router } from 'expo-router';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { draftSchema, summarySchema } from '@under-lock/core/outgoing/draft';
import { currentCertificate } from '../people/certificates';
import { currentKey } from '../people/keys';
import { personAt } from '@under-lock/core/people/find';
import { usePeople } from '../people/person';
import { openSent, readItem } from '../vault/useVault';
import { type OpenedMail } from '../threads/keys/opening';
import { isVouchedFor } from './signer-words';

const useRequest = (id: string) =>
  useSWR(
    ['request', id],
    async () => {
      const request = await api(getSent, { params: { id } });
      const [summary] = await openSent(summarySchema, [{ id, sealed: request.summary }]);
      const draft =
        summary?.forDraft === undefined ? undefined : await readItem('draft', summary.forDraft, draftSchema);
      return {
        askedAt: request.sentAt,
        draft: draft === undefined ? undefined : { id: draft.id, subject: draft.value.subject },
      };
    },
    { revalidateOnFocus: false },
  );

export function RequestAnswered({ requestId, mail }: { requestId: string; mail: OpenedMail }) {
  const now = useNow();
  const { data: request } = useRequest(requestId);
  const { data: people } = usePeople();
  if (request === undefined || people === undefined) return null;
  const { from } = mail.message;
  const asked = `You asked ${from.name || from.address} for a signed message ${momentInWords(request.askedAt, now, zone)}; this is an answer.`;
  const person = personAt(people, from.address)?.value;
  const has = person !== undefined && (currentCertificate(person) !== undefined || currentKey(person) !== undefined);
  const brings = mail.keys.length + mail.certificates.length > 0;
  if (!isVouchedFor(mail) && !has && !brings)
    return (
      <Banner tone="amber">{`${asked} Its signature can’t be relied on, so there is no certificate to keep.`}</Banner>
    );
  if (!has)
    return (
      <Banner tone="sea">{`${asked} Look at ${brings ? 'what came with it' : 'who signed it'}, further down, and keep ${mail.keys.length > 0 ? 'the key' : 'the certificate'}.`}</Banner>
    );
  const { draft } = request;
  const means = currentKey(person) === undefined ? 'certificate' : 'key';
  return (
    <Banner
      tone="sea"
      actions={
        draft === undefined ? undefined : (
          <Button
            label="Go on with the draft"
            describe={`Go on with the draft ${draft.subject}`}
            onPress={() => router.push(`/write/${draft.id}` as never)}
          />
        )
      }
    >
      {draft === undefined
        ? `${asked} Their ${means} is kept.`
        : `${asked} Their ${means} is kept, and your draft “${draft.subject || 'without a subject'}” waits for it.`}
    </Banner>
  );
}
