/** A mail under what they chose, saved for their mail program: whether it can be read there is seen before it is kept. */
import { type OwnChoice } from '@under-lock/core/choosing/choice';
import { Button } from '@under-lock/ui';
import { save } from '../files/save';
import { type FormProps } from './form';
import { chooseWords } from './words';

interface Props extends Pick<FormProps, 'choosing' | 'door' | 'officeName' | 'busy' | 'attempt'> {
  /** What is given here, or in words why it can't be used. */
  choice: () => Promise<OwnChoice | string>;
  onTried: () => void;
}

export function TryMail({ choosing: { address }, door, officeName, busy, attempt, choice, onTried }: Props) {
  const tryIt = () =>
    attempt(async () => {
      const found = await choice();
      if (typeof found === 'string') return found;
      const { sampleSubject: subject, sampleText: text } = chooseWords;
      save(await door.sampleMail({ choice: found, address, officeName, subject, text, now: new Date() }));
      onTried();
      return undefined;
    });
  return <Button label={chooseWords.tryFirst} busy={busy} onPress={() => void tryIt()} />;
}
