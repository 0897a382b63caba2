/** Asking for a signed message from the page: core's order of steps, with the threads and the server as its ports. */
import { sendRequest } from '@under-lock/contract/outgoing';
import { type Asking, askForSigned as ask } from '@under-lock/core/outgoing/request';
import { api } from '../api';
import { door } from '../threads/main/door';
import { keysDoor } from '../threads/keys/door';
import { content, copies } from './send';

export { type Asking, NothingToSignWithError, requestWords } from '@under-lock/core/outgoing/request';

/** Resolves with the message's id. @throws ApiProblem, NothingToSignWithError */
export const askForSigned = (asking: Asking, now: Date): Promise<string> =>
  ask(
    asking,
    {
      content,
      copies,
      record: {
        sealSummary: (messageId, summary) => door().vault.sealSent(messageId, summary),
        request: (id, body) => api(sendRequest, { params: { id }, body }),
      },
      signs: (lock, address) =>
        lock === 'certificate' ? keysDoor().copies.signs(address, now) : keysDoor().openpgp.signs(address, now),
      newId: () => crypto.randomUUID(),
    },
    now,
  );
