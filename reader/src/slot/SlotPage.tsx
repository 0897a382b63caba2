/**
 * A mail slot's page with everything that may be on it, drawn once when the pages are built. Nothing here is ever run in
 * a browser: its script (page.ts) shows one stage at a time and fills it in.
 */
import {
  Banner,
  border,
  Button,
  colour,
  Field,
  font,
  Heading,
  radius,
  Row,
  space,
  Stack,
  Text,
  TextButton,
} from '@under-lock/ui';
import { type Language } from '@under-lock/core/language';
import { type ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { Frame } from '../Frame';
import { type Part, type Stage } from './built';
import { type SlotWords } from '../words/slot/en';

const nothing = (): void => undefined;
const marked = (at: Part): object => ({ dataSet: { at } });

const At = ({ at, children }: { at: Part; children?: ReactNode }) => (
  <View {...marked(at)} style={styles.at}>
    {children}
  </View>
);

const ShownIn = ({ stage, children }: { stage: Stage; children: ReactNode }) => (
  <View {...marked(stage)} style={styles.stage}>
    {children}
  </View>
);

const Code = ({ at, label }: { at: Part; label: string }) => (
  <View>
    <Text kind="label" tone="soft">
      {label}
    </Text>
    <Text {...marked(at)} style={styles.code} selectable>
      {' '}
    </Text>
  </View>
);

const Form = ({ words }: { words: SlotWords }) => (
  <ShownIn stage="form">
    <Text {...marked('intro')}>{words.intro}</Text>
    <Field
      label={words.address}
      hint={words.addressHint}
      inputMode="email"
      autoComplete="email"
      autoCapitalize="none"
      maxLength={254}
    />
    <Field label={words.name} autoComplete="name" maxLength={100} />
    <Field label={words.subject} maxLength={200} />
    <Field label={words.text} multiline numberOfLines={6} maxLength={100_000} />
    <Stack>
      <At at="files" />
      <Row>
        <Button label={words.addFiles} onPress={nothing} />
        <Text kind="small" tone="soft" {...marked('used')}>
          {words.used}
        </Text>
      </Row>
    </Stack>
    <TextButton label={words.more} onPress={nothing} />
    <At at="more">
      <Field label={words.phone} hint={words.phoneHint} inputMode="tel" autoComplete="tel" maxLength={30} />
      <Field label={words.own} hint={words.ownHint} autoComplete="off" autoCapitalize="none" maxLength={100} />
    </At>
    <Button kind="main" label={words.leave} onPress={nothing} wide />
    <Text kind="small" tone="soft">
      {words.after}
    </Text>
  </ShownIn>
);

const Proof = ({ words }: { words: SlotWords }) => (
  <ShownIn stage="code">
    <Heading level={2}>{words.codeTitle}</Heading>
    <Text {...marked('sent')}>{words.codeSent}</Text>
    <Field label={words.digits} code inputMode="numeric" autoComplete="one-time-code" maxLength={12} />
    <Button kind="main" label={words.confirm} onPress={nothing} wide />
    <Row>
      <TextButton label={words.again} onPress={nothing} />
      <TextButton label={words.back} onPress={nothing} />
    </Row>
  </ShownIn>
);

const Busy = ({ words }: { words: SlotWords }) => (
  <ShownIn stage="busy">
    <Heading level={2}>{words.busyTitle}</Heading>
    <View role="progressbar" aria-label={words.busyTitle} {...marked('bar')} style={styles.bar}>
      <View style={styles.done} />
    </View>
    <Text {...marked('progress')} aria-live="polite">
      {words.sealing}
    </Text>
    <Button label={words.stop} onPress={nothing} />
  </ShownIn>
);

const Done = ({ words }: { words: SlotWords }) => (
  <ShownIn stage="done">
    <Heading level={2}>{words.doneTitle}</Heading>
    <Text {...marked('finished')}>{words.doneText}</Text>
    <View style={styles.receipt}>
      <Code at="number" label={words.number} />
      <At at="code-row">
        <Code at="answer-code" label={words.code} />
      </At>
    </View>
    <Text {...marked('code-text')}>{words.codeText}</Text>
    <Text {...marked('own-text')}>{words.ownText}</Text>
    <Row>
      <Button label={words.copy} onPress={nothing} />
      <Text kind="small" tone="soft" aria-live="polite" {...marked('copied')}>
        {words.copied}
      </Text>
    </Row>
    <Row>
      <Button kind="quiet" label={words.another} onPress={nothing} />
    </Row>
  </ShownIn>
);

export const SlotPage = ({ words, language }: { words: SlotWords; language: Language }) => (
  <Frame officeName="{office}" room="" title={words.title} headed spoken={{ language, label: words.language }}>
    <Stack>
      <At at="problem">
        <Banner tone="brick">{'{problem}'}</Banner>
      </At>
      <ShownIn stage="loading">
        <Text tone="soft">{words.loading}</Text>
      </ShownIn>
      <Form words={words} />
      <Proof words={words} />
      <Busy words={words} />
      <Done words={words} />
      <ShownIn stage="closed">
        <Heading level={2}>{words.closedTitle}</Heading>
        <Text>{words.closedText}</Text>
      </ShownIn>
      <ShownIn stage="trouble">
        <Button label={words.retry} onPress={nothing} />
      </ShownIn>
      {/* Copied for each file, and for each thing that is wrong. */}
      <View {...marked('file')} style={styles.file}>
        <Text kind="small" style={styles.name}>
          {'{file}'}
        </Text>
        <Text kind="small" tone="soft">
          {'{size}'}
        </Text>
        <Button kind="quiet" label={words.remove} describe={words.removeFile} onPress={nothing} />
      </View>
      <Text kind="small" tone="brick" {...marked('error')}>
        {'■ {error}'}
      </Text>
    </Stack>
  </Frame>
);

const styles = StyleSheet.create({
  at: { gap: space.m, alignSelf: 'stretch' },
  stage: { gap: space.l, alignSelf: 'stretch' },
  file: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: space.s,
    borderBottomWidth: border.hair,
    borderBottomColor: colour.line,
  },
  name: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
  receipt: {
    gap: space.m,
    padding: space.l,
    borderWidth: border.hair,
    borderColor: colour.line,
    borderRadius: radius.m,
    backgroundColor: colour.paleSea,
    alignSelf: 'stretch',
  },
  code: { fontFamily: font.mono, fontSize: 22, lineHeight: 32, color: colour.ink },
  bar: {
    height: space.s,
    borderRadius: radius.m,
    backgroundColor: colour.quiet,
    overflow: 'hidden',
    alignSelf: 'stretch',
  },
  done: { height: '100%', width: '0%', backgroundColor: colour.sea },
});
