/** The letter: to whom, about what, the text, its files. Everything else opens by a press. */
import { ownAddresses } from '@under-lock/core/people/own-addresses';
import { Check, Choice, Loading, space, Text, TextButton } from '@under-lock/ui';
import { DropZone } from '@under-lock/ui/drop-zone';
import { later } from '@under-lock/ui/later';
import { memo, type RefObject, useCallback, useMemo, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { door } from '../../threads/main/door';
import { type DraftDesk } from '../useDraft';
import { type Writing } from '../useWriting';
import { AddFiles, FileList } from './FilesField';
import { Tags } from '../rules/Tags';
import { HeadLine } from './HeadLine';
import { RecipientField } from './RecipientField';

const Editor = later(
  async () => (await import('./Editor')).Editor,
  ({ beneath, tools }) => (
    <>
      <Loading what="Getting the editor" />
      {beneath}
      {tools}
    </>
  ),
);

const From = memo(function From({ account, draft, desk }: Pick<Writing, 'account' | 'draft' | 'desk'>) {
  if (account.further.length === 0) return null;
  return (
    <Choice
      row
      label="From"
      value={draft.from ?? account.address}
      onChange={(from) =>
        desk.change(({ from: _, ...before }) => (from === account.address ? before : { ...before, from }))
      }
      options={ownAddresses(account).map((value) => ({ value, label: value }))}
    />
  );
});

const LINES = [
  ['To', 'to'],
  ['Cc', 'cc'],
  ['Bcc', 'bcc'],
] as const;

/** `openReference` while there is a further line to open. */
const Recipients = memo(function Recipients({
  draft,
  desk,
  isNew: isBegun,
  suggestions,
  marks,
  edits,
  openReference,
}: Pick<Writing, 'draft' | 'desk' | 'suggestions' | 'marks' | 'edits'> & {
  isNew: boolean;
  openReference: (() => void) | undefined;
}) {
  const [asked, setAsked] = useState(false);
  const { recipients, eachAlone = false } = draft;
  // A message that is begun begins with whom it goes to.
  const [isNew] = useState(isBegun && recipients.length === 0);
  const more = asked || eachAlone || recipients.some(({ role }) => role !== 'to');
  // What opens further lines stands in this one: between subject and text there is nothing that Tab would stop at.
  const openers = useMemo(
    () => (
      <>
        {more ? null : <TextButton label="Cc, Bcc" describe="Cc, Bcc, or each alone" onPress={() => setAsked(true)} />}
        {openReference === undefined ? null : (
          <TextButton label="Ref" describe="Reference number" onPress={openReference} />
        )}
      </>
    ),
    [more, openReference],
  );
  return (
    <View style={styles.above}>
      {LINES.map(([label, role]) =>
        role === 'to' || more ? (
          <RecipientField
            key={role}
            label={label}
            role={role}
            recipients={recipients}
            suggestions={suggestions}
            marks={marks}
            onAdd={edits.add}
            onRemove={edits.remove}
            aside={role === 'to' ? openers : undefined}
            starts={role === 'to' && isNew}
          />
        ) : null,
      )}
      {more && recipients.length > 1 ? (
        <Check
          label="Each alone"
          detail="Nobody sees who else gets it, and answers come to you only"
          value={eachAlone}
          onChange={(alone) =>
            desk.change(({ eachAlone: _, ...before }) => (alone ? { ...before, eachAlone: true } : before))
          }
        />
      ) : null}
    </View>
  );
});

/** Subject and reference number. `onDone`: the keyboard's own key goes on to the text; nothing is sent by it. */
function Subject({
  reference,
  onDone,
  ...writing
}: Pick<Writing, 'draft' | 'desk' | 'planned' | 'policy' | 'set'> & {
  reference: 'closed' | 'kept' | 'asked';
  onDone: () => void;
}) {
  const { draft, desk, planned, set } = writing;
  return (
    <View>
      <HeadLine
        label="Subject"
        value={draft.subject}
        onChangeText={(subject) => set({ subject: subject.replace(/[\r\n]+/g, ' ') })}
        maxLength={300}
        strong
        enterKeyHint="next"
        onSubmitEditing={onDone}
      />
      {planned.applied.terms.clear ? (
        <Text kind="small" tone="amber" style={styles.said}>
          ▲ Readable by anybody on its way, like the message.
        </Text>
      ) : null}
      <Tags {...writing} />
      {reference === 'closed' ? null : <Reference draft={draft} desk={desk} starts={reference === 'asked'} />}
    </View>
  );
}

function Reference({ draft, desk, starts }: Pick<Writing, 'draft' | 'desk'> & { starts: boolean }) {
  return (
    <>
      <HeadLine
        label="Reference"
        describe="Reference number"
        value={draft.reference}
        onChangeText={(text) => desk.change((before) => ({ ...before, reference: text.replace(/[\r\n]+/g, ' ') }))}
        maxLength={100}
        code
        autoFocus={starts}
      />
      <Text kind="small" tone="soft" style={styles.said}>
        Stays readable in the records.
      </Text>
    </>
  );
}

/** The files, and how one comes to them. */
const Attached = memo(function Attached({
  draft,
  desk,
  files,
  limit,
}: Pick<Writing, 'draft' | 'desk' | 'files' | 'limit'>) {
  return (
    <FileList
      files={draft.files}
      limit={limit}
      desk={files}
      onRemove={(blobId) => {
        desk.change((before) => ({ ...before, files: before.files.filter((file) => file.blobId !== blobId) }));
        void door()
          .message.removeFile(blobId)
          .catch(() => undefined);
      }}
    />
  );
});
const Adding = memo(AddFiles);

/** What its words are; the formatting and the files beneath are drawn again with them only where they change. */
const Words = memo(function Words({
  html,
  focus,
  set,
  draft,
  desk,
  files,
  limit,
}: Pick<Writing, 'set' | 'draft' | 'desk' | 'files' | 'limit'> & {
  html: string;
  focus: RefObject<(() => void) | undefined>;
}) {
  return (
    <Editor
      html={html}
      onChange={(next, text) => set({ html: next, text })}
      focus={focus}
      beneath={<Attached draft={draft} desk={desk} files={files} limit={limit} />}
      tools={<Adding desk={files} />}
    />
  );
});

interface Props extends Pick<Writing, 'draft'> {
  writing: Writing;
  desk: DraftDesk;
}

/** `draft` as it is at this key; what is drawn beside the words has it as it rests. */
export function Letter({ writing, desk, draft }: Props) {
  const { account, suggestions, marks, edits, files, limit, set, planned, policy } = writing;
  const beside = { draft: writing.draft, desk: writing.desk };
  const writeText = useRef<(() => void) | undefined>(undefined);
  const goToText = useCallback(() => writeText.current?.(), []);
  const [asked, setAsked] = useState(false);
  const reference = asked ? 'asked' : draft.reference === '' ? 'closed' : 'kept';
  const openReference = useMemo(() => (reference === 'closed' ? () => setAsked(true) : undefined), [reference]);
  // It is the editor's own from then on, until another version is loaded under the page.
  const beginsWith = useMemo(() => draft.html, [desk.version]); // eslint-disable-line react-hooks/exhaustive-deps
  return (
    <DropZone fills onFiles={files.add}>
      <From account={account} {...beside} />
      <Recipients {...beside} {...{ suggestions, marks, edits, openReference }} isNew={desk.keeping.state === 'new'} />
      <Subject {...{ draft, planned, policy, set, reference }} desk={writing.desk} onDone={goToText} />
      <Words key={desk.version} html={beginsWith} focus={writeText} {...{ set, files, limit }} {...beside} />
    </DropZone>
  );
}

const styles = StyleSheet.create({
  // The suggestions lie over what comes after.
  above: { zIndex: 2 },
  said: { paddingVertical: space.xs },
});
