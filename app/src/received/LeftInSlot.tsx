/**
 * Of a mail that was left in a mail slot: which one, whose mailbox was proved, where a passcode could go, and what can be
 * done about its sender.
 */
import { type IncomingMail } from '@under-lock/contract/received';
import { askSlotSender, putSlotSender } from '@under-lock/contract/slot';
import { firstSpoken, type Language } from '@under-lock/core/language';
import { addressKey } from '@under-lock/core/people/address';
import { personAt } from '@under-lock/core/people/find';
import { type ForTheAnswer, type SlotProof } from '@under-lock/core/slot/left';
import { Banner, Button, Result, Row, Stack, Text } from '@under-lock/ui';
import { momentInWords } from '@under-lock/core/when';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { listed } from '../handling/words';
import { rememberPerson, usePeople } from '../people/person';
import { useAttempt } from '../shell/useAttempt';
import { type Said } from './signer-words';
import { door } from '../threads/main/door';

export interface Left {
  proof: SlotProof;
  answer: ForTheAnswer;
}

/** Undefined while it is being opened, and for mail that came otherwise. */
export const useLeft = ({ id, sealedKey, slot }: IncomingMail) =>
  useSWR(
    slot === undefined ? null : ['left-in-slot', id],
    () => door().received.leftInSlot({ id, sealedKey, slot: slot! }),
    {
      revalidateOnFocus: false,
      shouldRetryOnError: false,
    },
  );

/** @param from Whom the mail itself names. */
export function proofWords({ slot, number, address, proved }: SlotProof, from: string): Said {
  const where = `Left in the mail slot of ${slot}, number ${number}.`;
  if (addressKey(address) !== addressKey(from))
    return {
      tone: 'brick',
      text: `${where} It says that it is from ${from}, but ${proved ? `the mailbox that was proved is ${address}` : `the address given was ${address}`}. Don’t rely on either.`,
    };
  return proved
    ? { tone: 'sea', text: `${where} Whoever left it can read the mailbox ${address}.` }
    : {
        tone: 'amber',
        text: `${where} Nobody proved that ${address} is theirs: anybody may have left it in that name.`,
      };
}

/** In the language that the page spoke to them. */
const questions: Record<Language, (number: string) => string> = {
  en: (number) => `What is your answer code, or the password you set, for number ${number}?`,
  de: (number) => `Wie lautet Ihr Antwortcode oder das Passwort, das Sie gesetzt haben, zur Nummer ${number}?`,
  pt: (number) => `Qual é o seu código de resposta, ou a palavra-passe que definiu, para o número ${number}?`,
  fr: (number) => `Quel est votre code de réponse, ou le mot de passe que vous avez choisi, pour le numéro ${number} ?`,
  es: (number) => `¿Cuál es su código de respuesta, o la contraseña que puso, para el número ${number}?`,
  it: (number) => `Qual è il Suo codice di risposta, o la password che ha impostato, per il numero ${number}?`,
  nl: (number) => `Wat is uw antwoordcode, of het wachtwoord dat u instelde, bij nummer ${number}?`,
  pl: (number) => `Jaki jest kod odpowiedzi albo ustawione przez Ciebie hasło do numeru ${number}?`,
  ar: (number) => `ما رمز الجواب أو كلمة المرور التي عيّنتها للرقم ${number}؟`,
};

/** What the answer to it asks, where no phone is known for a passcode. */
export const answerQuestion = ({
  proof: { number },
  answer: { code, language = 'en' },
}: Left): { question: string; answer: string } => ({
  question: questions[firstSpoken([language])](number),
  answer: code,
});

export function LeftInSlot({ left, from }: { left: Left; from: { name: string; address: string } }) {
  const { tone, text } = proofWords(left.proof, from.address);
  return (
    <Stack>
      <Banner tone={tone}>{text}</Banner>
      {left.answer.phone === undefined ? null : <PhoneLeft phone={left.answer.phone} from={from} />}
    </Stack>
  );
}

function PhoneLeft({ phone, from: { name, address } }: { phone: string; from: { name: string; address: string } }) {
  const { data: people } = usePeople();
  const { busy, said, attempt } = useAttempt();
  if (people === undefined) return null;
  const known = personAt(people, address)?.value;
  if (known?.phone === phone) return null;
  return (
    <Stack>
      <Text>{`They left a number for passcodes: ${phone}.${known?.phone === undefined ? '' : ` You have ${known.phone} for them.`}`}</Text>
      <Row>
        <Button
          label={known?.phone === undefined ? 'Keep it for them' : 'Use this one from now on'}
          busy={busy}
          onPress={() => void attempt(() => rememberPerson(people, { ...known, name, address, phone }))}
        />
      </Row>
      <Result said={said} />
    </Stack>
  );
}

interface SlotMail {
  id: string;
  /** Whom the slot knows as its sender. */
  address: string;
}

/** Asked again whenever the page is looked at again: what others behind the slot did is told to nobody. */
const useSlotSender = ({ id, address }: SlotMail) =>
  useSWR(['slot-sender', id], () => api(askSlotSender, { params: { id }, body: { address } }), {
    shouldRetryOnError: false,
  });

/** Others behind the slot have answered it already. */
export function SlotAnswers(mail: SlotMail) {
  const { data } = useSlotSender(mail);
  const now = useNow();
  if (data === undefined || data.answers.length === 0) return null;
  const [first] = data.answers;
  const names = listed(
    data.answers.map(({ name }) => name),
    'and',
  );
  const when = momentInWords(first!.at, now, zone);
  return (
    <Banner tone="amber">
      {data.answers.length === 1
        ? `${names} answered it on ${when}.`
        : `${names} have answered it, the first on ${when}.`}
    </Banner>
  );
}

/** One press blocks whoever left it, and one takes that back. */
export function SlotSender({ id, address }: SlotMail) {
  const { data, mutate } = useSlotSender({ id, address });
  const { busy, said, attempt } = useAttempt();
  // A slot that is gone, or that one is no longer behind.
  if (data === undefined) return null;
  const { blocked, slot } = data;
  const put = (): Promise<void> =>
    attempt(async () => {
      await api(putSlotSender, { params: { id }, body: { address, blocked: !blocked } });
      await mutate();
    });
  return (
    <Row>
      {blocked ? (
        <Text kind="small" tone="soft">{`The mail slot of ${slot.name} takes nothing more from ${address}.`}</Text>
      ) : null}
      <Button
        kind="quiet"
        label={blocked ? 'Take from them again' : 'Block this sender'}
        busy={busy}
        onPress={() => void put()}
      />
      <Result said={said} />
    </Row>
  );
}
