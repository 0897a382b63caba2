import { defined } from '@under-lock/core/defined';
import { addressKey, checkAddress, cleanName } from '@under-lock/core/people/address';
import { LANGUAGES, type Language } from '@under-lock/core/language';
import { OnEnter, Banner, Button, Choice, Dialog, Field, Line, Loading, Panel, Row, Stack, Text } from '@under-lock/ui';
import { router, useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { problemWords } from '../problem-words';
import { isOwnAddress } from '@under-lock/core/people/own-addresses';
import { useOpenSession } from '../session/session';
import { WayLink } from '../shell/WayLink';
import { Screen } from '../shell/Screen';
import { type Kept } from '@under-lock/core/vault/kept';
import { keepItem } from '../vault/useVault';
import { addressProblem, languageWords } from './words';
import { AskSignedLater } from './AskSignedLater';
import { type Person } from '@under-lock/core/people/kept-person';
import { forgetPerson, usePeople } from './person';
import { PersonCertificates } from './PersonCertificates';
import { PersonFiles } from './PersonFiles';
import { PersonKeys } from './PersonKeys';
import { phoneOf } from './phone-value';
import { PhoneInput } from './PhoneInput';

export function PersonScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: people, error } = usePeople();
  if (people === undefined)
    return (
      <Screen title="Person" back={<WayLink href="/people" label="People" />}>
        {error === undefined ? (
          <Loading what="Opening your people" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  const known = people.find((one) => one.id === id);
  if (known === undefined && id !== 'new') {
    return (
      <Screen title="Not here" back={<WayLink href="/people" label="People" />}>
        <Text>This person is not in your vault any more.</Text>
      </Screen>
    );
  }
  return <PersonForm key={id} known={known} people={people} />;
}

function PersonForm({ known, people }: { known: Kept<Person> | undefined; people: Kept<Person>[] }) {
  const { account } = useOpenSession();
  const [name, setName] = useState(known?.value.name ?? '');
  const [address, setAddress] = useState(known?.value.address ?? '');
  const [second, setSecond] = useState(known?.value.secondAddress ?? '');
  const [phone, setPhone] = useState(phoneOf(known?.value.phone));
  const [language, setLanguage] = useState<Language>(known?.value.language ?? 'en');
  const [errors, setErrors] = useState<{ address?: string; second?: string; phone?: string; all?: string }>({});
  const [forgetting, setForgetting] = useState(false);
  const [busy, setBusy] = useState(false);

  const save = async (): Promise<void> => {
    const found: typeof errors = {};
    const first = checkAddress(address);
    if (!first.ok) found.address = addressProblem[first.problem];
    else if (people.some((one) => one.id !== known?.id && addressKey(one.value.address) === addressKey(first.address)))
      found.address = 'This address belongs to another person in your list.';
    const other = second.trim() === '' ? undefined : checkAddress(second);
    if (other !== undefined && !other.ok) found.second = addressProblem[other.problem];
    if (other?.ok === true && first.ok && addressKey(other.address) === addressKey(first.address))
      found.second = 'This must be another address than the first.';
    if (other?.ok === true && isOwnAddress(account, other.address)) found.second = 'That is your own address.';
    if (phone.typed.trim() !== '' && phone.e164 === undefined)
      found.phone = 'That number is not complete for this country.';
    if (phone.e164 !== undefined && phone.e164 === account.phone) found.phone = 'That is your own number.';
    setErrors(found);
    if (!first.ok || Object.keys(found).length > 0) return;
    setBusy(true);
    try {
      // What this form shows is as it shows it; everything else known of them stays.
      const { phone: _phone, secondAddress: _second, language: _language, ...rest } = known?.value ?? {};
      const value: Person = {
        ...rest,
        name: cleanName(name),
        address: first.address,
        ...defined({ phone: phone.e164 }),
        ...(other?.ok === true ? { secondAddress: other.address } : {}),
        ...(language === 'en' ? {} : { language }),
      };
      await keepItem('person', known?.id ?? crypto.randomUUID(), known?.revision ?? 0, value);
      router.replace('/people');
    } catch (error) {
      setErrors({ all: problemWords(error) });
      setBusy(false);
    }
  };

  return (
    <Screen
      title={known === undefined ? 'New person' : known.value.name || known.value.address}
      back={<WayLink href="/people" label="People" />}
    >
      <Panel>
        <Line last>
          <OnEnter does={busy ? undefined : () => void save()}>
            <Stack>
              <Field label="Name" value={name} onChangeText={setName} autoComplete="off" />
              <Field
                label="Address"
                value={address}
                onChangeText={setAddress}
                inputMode="email"
                autoCapitalize="none"
                autoComplete="off"
                error={errors.address}
              />
              <PhoneInput label="Phone for passcodes" value={phone} onChange={setPhone} error={errors.phone} />
              <Field
                label="Second address for passcodes"
                value={second}
                onChangeText={setSecond}
                inputMode="email"
                autoCapitalize="none"
                autoComplete="off"
                hint="Another mailbox of the same person, not one that shares a password with the first."
                error={errors.second}
              />
              <Choice
                label="Language of notices"
                value={language}
                onChange={setLanguage}
                row
                options={LANGUAGES.map((value) => ({ value, label: languageWords[value] }))}
              />
              {errors.all === undefined ? null : <Banner tone="brick">{errors.all}</Banner>}
              <Row>
                <Button kind="main" label="Keep" onPress={() => void save()} busy={busy} />
                {known === undefined ? null : (
                  <Button kind="stop" label="Forget this person" onPress={() => setForgetting(true)} />
                )}
              </Row>
            </Stack>
          </OnEnter>
        </Line>
      </Panel>
      {known === undefined ? null : (
        <PersonCertificates
          ask={<AskSignedLater person={known.value} people={people} />}
          person={known.value}
          onChange={async (certificates) =>
            void (await keepItem('person', known.id, known.revision, { ...known.value, certificates }))
          }
        />
      )}
      {known === undefined ? null : (
        <PersonKeys
          person={known.value}
          onChange={async (change) =>
            void (await keepItem('person', known.id, known.revision, { ...known.value, ...change }))
          }
        />
      )}
      {known === undefined ? null : (
        <PersonFiles
          person={known.value}
          onChange={async (change) =>
            void (await keepItem('person', known.id, known.revision, { ...known.value, ...change }))
          }
        />
      )}
      <Dialog
        title="Forget this person?"
        open={forgetting}
        onClose={() => setForgetting(false)}
        actions={
          <>
            <Button
              kind="stop"
              label="Forget"
              onPress={() => void forgetPerson(known!.id).then(() => router.replace('/people'))}
            />
            <Button label="Keep" onPress={() => setForgetting(false)} />
          </>
        }
      >
        <Text>
          Their phone and second address go from your vault. Messages already sent stay readable for them until they
          close.
        </Text>
      </Dialog>
    </Screen>
  );
}
