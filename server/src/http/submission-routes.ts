/** What workers set up for their mail programs, and what the door for these asks. */
import * as submissionApi from '@under-lock/contract/submission';
import { defined } from '@under-lock/core/defined';
import { accountOf, type SignedIn } from '../account/session';
import { type Context } from '../context';
import { Problem } from '../problem';
import { addDevice, endDevice, listDevices, type OwnDevice, seenAtDoor, signInDevice } from '../submission/devices';
import { knownDoor, openDoor } from '../submission/door';
import { dropHanded, handIn, letWait, listHanded, listUnfinished } from '../submission/handed';
import { reportLeft } from '../submission/left';
import { dropSigner, listSigners, putSigner, signersFor } from '../submission/signers';
import { type mounter } from './mount';

/** @throws Problem `not-allowed` for a browser */
export function byDevice({ account, device }: SignedIn): { account: SignedIn['account']; device: OwnDevice } {
  if (device === undefined) throw new Problem('not-allowed', 403, 'This is for the office’s door for mail programs');
  return { account, device };
}

export function mountSubmission(context: Context, mount: ReturnType<typeof mounter>): void {
  mount(submissionApi.listDevices, async ({ who }) => {
    const [door, devices, seen] = await Promise.all([
      knownDoor(context),
      listDevices(context, who.account.id),
      seenAtDoor(context, who.account.id),
    ]);
    return {
      devices,
      ...seen,
      toldLeft: who.account.toldLeft,
      ...defined({ door: door && { host: door.host, startTls: door.startTls, tls: door.tls } }),
    };
  });
  mount(submissionApi.addDevice, ({ who, body }) => addDevice(context, who.account.id, body.name));
  mount(submissionApi.endDevice, ({ who, params }) => endDevice(context, who.account.id, params.id));
  mount(submissionApi.listHanded, async ({ who }) => ({ mails: await listHanded(context, who.account.id) }));
  mount(submissionApi.dropHanded, ({ who, params }) => dropHanded(context, who.account.id, params.id));

  mount(submissionApi.listSigners, async ({ who }) => {
    const door = await knownDoor(context);
    return {
      signers: await listSigners(context, who.account.id),
      ...defined({ door: door && { suite: door.suite, publicKey: door.publicKey } }),
    };
  });
  mount(submissionApi.putSigner, ({ who, params, body }) => putSigner(context, who.account.id, params.kind, body));
  mount(submissionApi.dropSigner, ({ who, params }) => dropSigner(context, who.account.id, params.kind));

  mount(submissionApi.openDoor, ({ body }) => openDoor(context, body));
  mount(submissionApi.signInDevice, ({ body }) => signInDevice(context, body));
  mount(submissionApi.listUnfinished, async () => ({ mails: await listUnfinished(context) }));
  mount(submissionApi.getOwner, async ({ who }) => {
    const { account } = byDevice(who);
    return {
      account: accountOf(account),
      key: { suite: account.keySuite!, publicKey: new Uint8Array(account.publicKey!) },
    };
  });
  mount(submissionApi.listSignersForDoor, async ({ who }) => ({
    signers: await signersFor(context, byDevice(who).account.id),
  }));
  mount(submissionApi.handIn, ({ who, params, body }) => handIn(context, byDevice(who), params.id, body));
  mount(submissionApi.reportLeft, ({ who, params, body }) =>
    reportLeft(context, byDevice(who).account, params.id, body),
  );
  mount(submissionApi.setToldLeft, async ({ who, body }) => void (await who.account.update({ toldLeft: body.when })));
  mount(submissionApi.letWait, ({ who, params, body }) => letWait(context, byDevice(who).account, params.id, body));
}
