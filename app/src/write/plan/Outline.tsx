/** How it goes out, in the order of the work: what is missing, the handling, who gets it how, when it leaves. */
import { Fold, Section, Stack, Text } from '@under-lock/ui';
import { momentInWords } from '@under-lock/core/when';
import { messageMissingWords } from '@under-lock/core/outgoing/missing-words';
import { zone } from '../../clock';
import { peopleCount } from '../../people/words';
import { Doubts } from '../doubts/Doubts';
import { OfficeRules } from '../rules/OfficeRules';
import { SeenInIt } from '../seen/SeenInIt';
import { type Writing } from '../useWriting';
import { HandlingLines } from './HandlingLines';
import { LeavingForm } from './LeavingForm';
import { Recipients } from './Recipients';
import { ToSettle } from './ToSettle';
import { useHeld } from './useHeld';

type Place = 'settle' | 'line';
const placeKey = (place: Place, address: string): string => `${place} ${address}`;

function Leaving({ draft, desk, planned: { leavesAt }, now }: Writing) {
  const words =
    draft.sendAt === undefined
      ? 'Leaves at once'
      : leavesAt === undefined
        ? 'Leaves at a moment that has passed'
        : `Leaves ${momentInWords(leavesAt, now, zone)}`;
  return (
    <Fold label={words} head={<Text>{words}</Text>} startsOpen={draft.sendAt !== undefined}>
      <LeavingForm
        sendAt={draft.sendAt}
        leavesAt={leavesAt}
        now={now}
        onChange={(sendAt) =>
          desk.change(({ sendAt: _, ...before }) => (sendAt === undefined ? before : { ...before, sendAt }))
        }
      />
    </Fold>
  );
}

export function Outline(writing: Writing) {
  const { planned, actions, now, draft } = writing;
  const { plan, leastCheck } = planned;
  const { isHeld, holding } = useHeld();
  // What the hand is in stays where it is, settled or not.
  const here = (place: Place, address: string): boolean => isHeld(placeKey(place, address));
  const wants = plan.lines.filter(
    ({ chosen, recipient: { address } }) =>
      here('settle', address) || (chosen.missing.length > 0 && !here('line', address)),
  );
  const settled = plan.lines.filter((line) => !wants.includes(line));
  // What was seen comes before how it goes; that nothing was, or could be, comes last.
  const isSeen = writing.seen.open.length > 0;
  const said = plan.missing.map((missing) => messageMissingWords(missing, now, zone));
  return (
    <Stack>
      {/* Before anything is settled for them: they may be the wrong ones. */}
      <Doubts {...writing} />
      {draft.recipients.length === 0 ? null : (
        <ToSettle
          lines={wants}
          said={said}
          count={said.length + plan.lines.filter(({ chosen }) => chosen.missing.length > 0).length}
          holding={(address) => holding(placeKey('settle', address))}
          leastCheck={leastCheck}
          actions={actions}
        />
      )}
      <OfficeRules {...writing} />
      {isSeen ? <SeenInIt {...writing} /> : null}
      <Section title="Handling">
        <HandlingLines {...writing} />
      </Section>
      <Section title="Who gets it how" aside={peopleCount(plan.lines.length)}>
        {plan.lines.length === 0 ? (
          <Text kind="small" tone="soft">
            Add a recipient, and this shows how it will reach them and what is missing.
          </Text>
        ) : (
          <Recipients
            lines={settled}
            fromBook={writing.fromBook}
            leastCheck={leastCheck}
            actions={actions}
            isHeld={(address) => here('line', address)}
            holding={(address) => holding(placeKey('line', address))}
          />
        )}
        <Leaving {...writing} />
      </Section>
      {isSeen ? null : <SeenInIt {...writing} />}
    </Stack>
  );
}
