/** What is asked before the office takes a key's word, stops taking it, or vouches for one. */
import { Text } from '@under-lock/ui';
import { type ComponentProps } from 'react';
import { type OpenPgpView } from '../keys/openpgp/view';
import { fingerprintInGroups } from '../keys/words';
import { Asked } from './Asked';
import { type Staff } from './key-trust';

type About<T> = Pick<ComponentProps<typeof Asked>, 'busy' | 'onYes' | 'onLeave'> & { of: T };

export const TakeWord = ({ of: view, ...rest }: About<OpenPgpView>) => (
  <Asked
    {...rest}
    title={`Take the word of ${view.name || view.addresses[0] || 'this key'}?`}
    kind="main"
    label="I compared it: take its word"
  >
    <Text>
      Whatever key it vouches for is valid here, for anybody it names. Compare the fingerprint with what its holder
      publishes, not with what came in a mail.
    </Text>
    <Text kind="small" tone="soft">
      Fingerprint
    </Text>
    <Text kind="mono">{fingerprintInGroups(view.fingerprint)}</Text>
  </Asked>
);

export const StopTrusting = ({ of: view, ...rest }: About<OpenPgpView>) => (
  <Asked {...rest} title={`Stop trusting ${view.name || 'this key'}?`} kind="stop" label="Stop trusting it">
    <Text>Keys that only it vouches for count as unchecked from now on, also in messages that are being written.</Text>
  </Asked>
);

export const Vouch = ({ of: { name, view }, ...rest }: About<Staff>) => (
  <Asked {...rest} title={`Vouch for ${name}?`} kind="main" label="We compared it: vouch for it">
    <Text>{`You say in the office’s name that this key is ${name}’s. Have them read the fingerprint to you from their page under Keys: every group must be the same.`}</Text>
    <Text kind="mono">{fingerprintInGroups(view.fingerprint)}</Text>
    <Text kind="mono">{view.words.join(' ')}</Text>
  </Asked>
);
