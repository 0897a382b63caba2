/** One access of a sent message: who, where it stands, what happened, and behind a press what can still be done. */
import { type Grant } from '@under-lock/contract/outgoing';
import { inOneLine } from '@under-lock/core/in-one-line';
import { isIdentityCheck } from '@under-lock/core/handling/handling';
import { momentInWords } from '@under-lock/core/when';
import { Button, Check, Line, Row, space, StateMark, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { zone } from '../clock';
import { checkWords } from '../handling/words';
import { confirmedWords, endWords, grantMark, noticeWords, openedWords, who } from '../handling/grant-words';
import { type Asking } from './MessageAsked';
import { OneTimePassword } from './OneTimePassword';

/** What can be done with one access. */
export interface GrantActs {
  ask: (asking: Asking) => void;
  tell: (grant: Grant) => void;
  renew: (grant: Grant) => void;
  copy: (grant: Grant) => void;
}

interface Props {
  grant: Grant;
  /** Of the message as a whole: where this one closes then, its line does not say it again. */
  closesAt: Date | undefined;
  leaving: boolean;
  selected?: boolean;
  onSelect?: (on: boolean) => void;
  now: Date;
  last: boolean;
  several: boolean;
  canGiveAgain: boolean;
  /** The one-time password that was made for them. */
  told?: string | undefined;
  acts: GrantActs;
}

export function GrantLine(props: Props) {
  const { grant, leaving, selected, onSelect, last, acts, canGiveAgain } = props;
  const [open, setOpen] = useState(false);
  const held = grant.state === 'held';
  const name = who(grant);
  return (
    <Line last={last} testID={`grant-${grant.address}`}>
      <View style={styles.row}>
        <LockShape
          shape={grant.carried ? 'folded-arch' : 'arch'}
          state={grant.opened.here > 0 && held ? 'filled' : 'outline'}
        />
        <View style={styles.words}>
          <Row style={styles.between}>
            <Text kind="strong" tone={held ? 'ink' : 'soft'} style={styles.wrap}>
              {name}
            </Text>
            <StateMark {...grantMark(grant, leaving)} />
          </Row>
          <View style={styles.row}>
            <GrantFacts {...props} />
            {held ? (
              <Button
                kind="quiet"
                label={open ? 'Less' : 'More'}
                describe={`${open ? 'Less' : 'More'} for ${name}`}
                expanded={open}
                onPress={() => setOpen(!open)}
              />
            ) : null}
          </View>
          {onSelect === undefined ? null : (
            <Check label="Selected" describe={`Selected: ${name}`} value={selected === true} onChange={onSelect} />
          )}
          {held ? <OneTimePassword grant={grant} told={props.told} /> : null}
          <GrantTroubles {...props} />
          {open && held ? <GrantMore {...props} /> : null}
          {!held || grant.lost !== undefined ? (
            <Row>
              {canGiveAgain ? (
                <Button
                  label="Give access again"
                  describe={`Give access again to ${name}`}
                  onPress={() => acts.ask({ what: 'again', grant })}
                />
              ) : null}
              {held ? null : (
                <Button
                  kind="quiet"
                  label="As they see it"
                  describe={`As they see it: ${name}`}
                  onPress={() => acts.ask({ what: 'seen', grant })}
                />
              )}
            </Row>
          ) : null}
        </View>
      </View>
    </Line>
  );
}

function GrantFacts({ grant, closesAt, leaving, now }: Props) {
  const held = grant.state === 'held';
  const ends = held && grant.closesAt.getTime() === closesAt?.getTime() ? '' : `; ${endWords(grant, now)}`;
  const hint = grant.check.hint === '' ? '' : ` to ${grant.check.hint}`;
  const question = grant.check.question && grant.check.kind !== 'question' ? ', and a question' : '';
  const how = held ? `${checkWords[grant.check.kind]}${hint}${question}` : '';
  return (
    <View style={styles.facts}>
      {grant.name === '' && how === '' ? null : (
        <Text kind="small" tone="soft" style={styles.wrap}>
          {inOneLine(grant.name === '' ? '' : grant.address, how)}
        </Text>
      )}
      <Text kind="small" tone="soft">
        {`${noticeWords(grant, now, leaving)}${leaving ? '' : `; ${openedWords(grant, now)}${confirmedWords(grant, now)}`}${ends}.`}
      </Text>
      {grant.role === 'bcc' ? (
        <Text kind="small" tone="soft">
          Unseen by the others
        </Text>
      ) : null}
      {grant.carried ? (
        <Text kind="small" tone="soft">
          Carried page: the content went with the mail, sealed
        </Text>
      ) : null}
      {grant.passedOn === undefined ? null : (
        <Text kind="small" tone="soft">{`Passed on by ${who(grant.passedOn)}; ends with theirs`}</Text>
      )}
    </View>
  );
}

/** What went wrong or is asked, each with what helps. */
function GrantTroubles({ grant, canGiveAgain, now, acts }: Props) {
  const name = who(grant);
  const { wrongTries, stopped, pausedUntil, otherWay, lost, notice } = grant;
  const isTold = grant.check.kind !== 'account';
  const noLonger = stopped ? ', none left' : '';
  const paused = stopped || pausedUntil === undefined ? '' : `, stopped until ${momentInWords(pausedUntil, now, zone)}`;
  const undelivered = notice.state === 'refused' || notice.state === 'bounced';
  return (
    <>
      {wrongTries === 0 ? null : (
        <Text
          kind="small"
          tone="amber"
        >{`▲ ${wrongTries} wrong ${wrongTries === 1 ? 'try' : 'tries'}${noLonger}${paused}`}</Text>
      )}
      {otherWay === undefined ? null : (
        <Text kind="small" tone="amber">{`▲ Asks for another way: “${otherWay.wish}”`}</Text>
      )}
      {lost === undefined ? null : (
        <Text
          kind="small"
          tone="brick"
        >{`■ Sealed to a password that is forgotten or removed${lost.askedAt === undefined ? '' : `; asks you to give it again, ${momentInWords(lost.askedAt, now, zone)}`}`}</Text>
      )}
      {grant.state === 'held' && canGiveAgain && isTold && undelivered ? (
        <Row>
          <Button
            label="Correct the address"
            describe={`Correct the address of ${name}`}
            onPress={() => acts.ask({ what: 'add', corrects: grant })}
          />
        </Row>
      ) : null}
      {stopped || otherWay !== undefined ? (
        <Row>
          {stopped ? (
            <Button
              label="Let them try again"
              describe={`Let them try again: ${name}`}
              onPress={() => acts.renew(grant)}
            />
          ) : null}
          <ChangeWay grant={grant} acts={acts} />
        </Row>
      ) : null}
    </>
  );
}

const ChangeWay = ({ grant, acts }: Pick<Props, 'grant' | 'acts'>) => (
  <Button
    label="Change the way"
    describe={`Change the way ${who(grant)} proves who they are`}
    onPress={() => acts.ask({ what: 'channel', grant })}
  />
);

function GrantMore({ grant, several, acts }: Props) {
  const name = who(grant);
  const isTold = grant.check.kind !== 'account';
  // The link of what a reader passed on was never here.
  const hasLink = isTold && grant.passedOn === undefined && grant.lost === undefined;
  const wayIsOffered = grant.stopped || grant.otherWay !== undefined;
  return (
    <Row>
      {hasLink ? (
        <>
          <Button label="Tell again" describe={`Tell again: ${name}`} onPress={() => acts.tell(grant)} />
          <Button label="Copy the link" describe={`Copy the link for ${name}`} onPress={() => acts.copy(grant)} />
        </>
      ) : null}
      {isTold && isIdentityCheck(grant.check.kind) && !wayIsOffered ? <ChangeWay grant={grant} acts={acts} /> : null}
      <Button
        label="As they see it"
        describe={`As they see it: ${name}`}
        onPress={() => acts.ask({ what: 'seen', grant })}
      />
      {several ? (
        <>
          <Button
            label="Move the date"
            describe={`Move the date for ${name}`}
            onPress={() => acts.ask({ what: 'move', grants: [grant] })}
          />
          <Button
            kind="stop"
            label="Withdraw"
            describe={`Withdraw from ${name}`}
            onPress={() => acts.ask({ what: 'withdraw', grants: [grant] })}
          />
        </>
      ) : null}
    </Row>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: space.m, alignItems: 'flex-start' },
  words: { flex: 1, gap: space.xs, minWidth: 0 },
  facts: { flex: 1, gap: space.xs, minWidth: 0 },
  between: { justifyContent: 'space-between', alignItems: 'flex-start' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
