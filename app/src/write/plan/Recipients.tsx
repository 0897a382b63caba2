/** Who gets it how: a line a recipient, and one for many that go the same way. */
import { type PlanLine } from '@under-lock/core/outgoing/delivery-plan';
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { type LockName } from '@under-lock/core/locks/index';
import { type WithOffice } from '@under-lock/core/office-book/planned';
import { addressKey } from '@under-lock/core/people/address';
import { type BookField } from '@under-lock/core/office-book/person';
import { fieldWords } from '../../office-book/words';
import { border, colour, Fold, space, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { memo, useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { checkWords } from '../../handling/words';
import { grouped, wayOf } from './groups';
import { lockLabel, lockShapes } from '../../locks/lock-words';
import { firstLower } from '@under-lock/core/first-letter';
import { missingSentence } from '@under-lock/core/outgoing/missing-words';
import { warningWords } from './plan-words';
import { detailsOf, type DetailsProps, type ForAll, RecipientDetails } from './RecipientDetails';

/** Lock and check in a few words; to which number only where it is one person’s. */
export function waySaid({ chosen: { lock, check, clear, reasons } }: PlanLine, withHint: boolean): string {
  if (clear === true)
    return lock === 'open' ? 'open, not signed' : lock === 'file' ? 'only packed, not locked' : 'signed, not locked';
  const words = firstLower(lockLabel(lock, false));
  if (check === undefined)
    return reasons.some(({ code }) => code === 'stays-with-them') ? `${words} · stays with them` : words;
  const way = `${firstLower(checkWords[check.kind])}${withHint && check.hint !== '' ? ` to ${check.hint}` : ''}`;
  return `${words} · ${way}${check.question && check.kind !== 'question' ? ' and a question' : ''}`;
}

/** Which of what the office knows each way of theirs needs. */
const NEEDED: Partial<Record<LockName | IdentityCheck | 'password' | 'account', BookField>> = {
  certificate: 'certificates',
  openpgp: 'keys',
  file: 'password',
  text: 'phone',
  voice: 'phone',
  email: 'secondAddress',
};

const usesBook = ({ chosen: { lock, check } }: PlanLine, known: readonly BookField[]): boolean =>
  [NEEDED[lock], check === undefined ? undefined : NEEDED[check.kind]].some(
    (field) => field !== undefined && known.includes(field),
  );

/** Keeps the line in its place while the hand is in it. */
interface Held {
  isHeld: (address: string) => boolean;
  holding: (address: string) => object;
}

/** Drawn again only when something of it changed. */
const RecipientLine = memo(function RecipientLine({
  known,
  ...details
}: DetailsProps & { known: readonly BookField[] }) {
  const { line } = details;
  const { recipient, chosen } = line;
  const who = recipient.name || recipient.address;
  const way = `${waySaid(line, true)}${line.wish === 'followed' ? ' · as they chose' : usesBook(line, known) ? ' · known to the office' : ''}`;
  const missing = chosen.missing.map(missingSentence);
  const warnings = chosen.warnings.map(warningWords);
  return (
    <View role="listitem" style={styles.row}>
      <Fold
        label={[`${who}: ${way}`, ...missing, ...warnings].join('. ')}
        mark={<LockShape shape={lockShapes[chosen.lock]} state={missing.length > 0 ? 'stopped' : 'filled'} />}
        head={
          <>
            <Text kind="strong" style={styles.wrap}>
              {who}
            </Text>
            <Text kind="small" tone="soft">
              {way}
            </Text>
            {missing.map((words) => (
              <Text key={words} kind="small" tone="brick">{`■ ${words}`}</Text>
            ))}
            {warnings.map((words) => (
              <Text key={words} kind="small" tone="amber">{`▲ ${words}`}</Text>
            ))}
          </>
        }
      >
        {recipient.name === '' ? null : (
          <Text kind="small" style={styles.wrap}>
            {recipient.address}
          </Text>
        )}
        {known.length === 0 ? null : (
          <Text
            kind="small"
            tone="soft"
          >{`From the office book: ${known.map((field) => fieldWords[field]).join(', ')}.`}</Text>
        )}
        <RecipientDetails {...details} />
      </Fold>
    </View>
  );
});

interface WithBook {
  /** What of each came from the office book. */
  fromBook: WithOffice['fromBook'];
}

const NOTHING: readonly BookField[] = [];
const knownOf = (fromBook: WithBook['fromBook'], { recipient }: PlanLine): readonly BookField[] =>
  fromBook.get(addressKey(recipient.address)) ?? NOTHING;

/** Many that go the same way, opened to each of them. */
function SameWay({
  lines,
  holding,
  fromBook,
  ...common
}: ForAll & Pick<Held, 'holding'> & WithBook & { lines: readonly PlanLine[] }) {
  const [first] = lines;
  const { chosen } = first!;
  const way = waySaid(first!, false);
  const title = `${lines.length} more in the same way`;
  return (
    <View role="listitem" style={styles.row}>
      <Fold
        label={`${title}: ${way}`}
        mark={<LockShape shape={lockShapes[chosen.lock]} state="filled" />}
        head={
          <>
            <Text kind="strong">{title}</Text>
            <Text kind="small" tone="soft">
              {way}
            </Text>
            {chosen.warnings.map((warning) => (
              <Text key={warning.code} kind="small" tone="amber">{`▲ ${warningWords(warning)}`}</Text>
            ))}
          </>
        }
      >
        <View role="list" style={styles.within}>
          {lines.map((line) => (
            <div key={line.recipient.address} {...holding(line.recipient.address)}>
              <RecipientLine {...detailsOf(line, common)} known={knownOf(fromBook, line)} />
            </div>
          ))}
        </View>
      </Fold>
    </View>
  );
}

/** The way of each line; of one that the hand is in as it was before, so that it stays among those it was found with. */
function useWays(lines: readonly PlanLine[], isHeld: Held['isHeld']): string[] {
  const [before] = useState(() => new Map<string, string>());
  const ways = lines.map((line) => {
    const { address } = line.recipient;
    return (isHeld(address) ? before.get(address) : undefined) ?? wayOf(line);
  });
  useEffect(() => {
    before.clear();
    lines.forEach(({ recipient }, index) => before.set(recipient.address, ways[index]!));
  });
  return ways;
}

export function Recipients({
  lines,
  isHeld,
  holding,
  fromBook,
  ...common
}: ForAll & Held & WithBook & { lines: readonly PlanLine[] }) {
  const ways = useWays(lines, isHeld);
  return (
    <View role="list" aria-label="Recipients">
      {grouped(lines, ways).map(({ lines: same, folded }) =>
        folded ? (
          <SameWay
            key={`more ${same[0]!.recipient.address}`}
            lines={same}
            holding={holding}
            fromBook={fromBook}
            {...common}
          />
        ) : (
          <div key={same[0]!.recipient.address} {...holding(same[0]!.recipient.address)}>
            <RecipientLine {...detailsOf(same[0]!, common)} known={knownOf(fromBook, same[0]!)} />
          </div>
        ),
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  // What is not in sight is not laid out at each key.
  row: { contentVisibility: 'auto', containIntrinsicSize: 'auto 64px' } as object,
  within: { borderTopWidth: border.hair, borderTopColor: colour.line, marginLeft: -space.l },
  wrap: { overflowWrap: 'anywhere' } as object,
});
