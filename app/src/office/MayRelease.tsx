/** For administrators: whether a colleague may release what others wrote, where a rule asks for that. */
import { type Account, putMayRelease } from '@under-lock/contract/account';
import { Check, Result } from '@under-lock/ui';
import { mutate } from 'swr';
import { api } from '../api';
import { useAttempt } from '../shell/useAttempt';

export function MayRelease({ account: { id, name, mayRelease } }: { account: Account }) {
  const { said, attempt } = useAttempt();
  const change = (may: boolean): Promise<void> =>
    attempt(async () => {
      await api(putMayRelease, { params: { id }, body: { may } });
      await mutate('colleagues');
    });
  return (
    <>
      <Check
        label="Releases messages of others"
        describe={`Releases messages of others: ${name}`}
        value={mayRelease}
        onChange={(may) => void change(may)}
      />
      <Result said={said} />
    </>
  );
}
