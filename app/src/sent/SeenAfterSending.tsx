/** As they see it now, after sending: the room as it answers this very link, and the content as it is held. */
import { type Grant } from '@under-lock/contract/outgoing';
import { type Office } from '@under-lock/contract/office';
import { lookAtRoom, type Room } from '@under-lock/contract/room';
import { fromBase64Url } from '@under-lock/core/bytes';
import { openQuestion } from '@under-lock/core/identity/answer';
import useSWR from 'swr';
import { api } from '../api';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { door } from '../threads/main/door';
import { AsTheySeeIt, type SeenBy } from './AsTheySeeIt';
import { noticesOf, type SentWithNotices } from './notices';
import { type Sent } from './useSent';

/** Looking changes and spends nothing. The question is sealed for who holds the link: the vault does. */
async function lookFor(message: Sent, grant: Grant): Promise<{ room: Room; question: string | undefined }> {
  const room = await api(lookAtRoom, { params: { id: grant.id } });
  const share = message.opened?.links[grant.id];
  const sealed = room.state === 'held' ? room.check.question : undefined;
  const question =
    sealed === undefined || share === undefined
      ? undefined
      : await openQuestion(sealed, fromBase64Url(share), grant.id).catch(() => undefined);
  return { room, question };
}

export function SeenAfterSending({
  message,
  grant,
  office,
  now,
  onClose,
}: {
  message: SentWithNotices;
  grant: Grant;
  office: Office;
  now: Date;
  onClose: () => void;
}) {
  const { account } = useOpenSession();
  const isColleague = grant.check.kind === 'account';
  const { data: found, error: lookError } = useSWR(isColleague ? null : ['seen', grant.id], () =>
    lookFor(message, grant),
  );
  const { contentBlobId: blobId } = message;
  const key = message.opened?.key;
  const { data: held, error: contentError } = useSWR(
    blobId === undefined || key === undefined ? null : ['held', blobId],
    () => door().message.openSent(blobId!, key!),
    { revalidateOnFocus: false, revalidateIfStale: false },
  );
  const notice = noticesOf(message, account, office).find(({ grantId }) => grantId === grant.id)?.notice;
  const seen: SeenBy = {
    recipient: { name: grant.name, address: grant.address },
    language: grant.language,
    handling: { ...message.handling, closesAt: grant.closesAt },
    outside: isColleague || found === undefined ? undefined : { ...found, notice },
  };
  const error = lookError ?? contentError;
  if (!isColleague && found === undefined && lookError === undefined) return null;
  return (
    <AsTheySeeIt
      seen={[seen]}
      content={held?.content}
      confirms={message.presetTerms?.confirm === true}
      error={error === undefined ? undefined : problemWords(error)}
      office={office}
      now={now}
      closeLabel="Close"
      onClose={onClose}
    />
  );
}
