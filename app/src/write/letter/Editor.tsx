/** Formatted text by Tiptap; what it holds is HTML of a few plain elements and the same as text. */
import { Placeholder } from '@tiptap/extensions';
import { EditorContent, useEditor, useEditorState } from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import { border, colour, space, type } from '@under-lock/ui';
import { type ReactNode, type RefObject, useEffect } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';

interface Props {
  /** What it begins with; another version gets another editor. */
  html: string;
  onChange: (html: string, text: string) => void;
  /** Gets the way to put the caret here. */
  focus: RefObject<(() => void) | undefined>;
  /** Between the text's end and the formatting. */
  beneath: ReactNode;
  /** Before the formatting, in its line. */
  tools: ReactNode;
}

const extensions = [
  StarterKit.configure({
    heading: false,
    codeBlock: false,
    code: false,
    blockquote: false,
    horizontalRule: false,
    strike: false,
    link: { openOnClick: false },
  }),
  Placeholder.configure({ placeholder: 'Your message' }),
];

export function Editor({ html, onChange, focus, beneath, tools: before }: Props) {
  const editor = useEditor({
    extensions,
    content: html,
    injectCSS: false,
    editorProps: { attributes: { role: 'textbox', 'aria-label': 'Text', 'aria-multiline': 'true' } },
    onUpdate: ({ editor: now }) => onChange(now.isEmpty ? '' : now.getHTML(), now.getText({ blockSeparator: '\n\n' })),
  });
  const state = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      bold: now?.isActive('bold') ?? false,
      italic: now?.isActive('italic') ?? false,
      underline: now?.isActive('underline') ?? false,
      bullets: now?.isActive('bulletList') ?? false,
      numbers: now?.isActive('orderedList') ?? false,
    }),
  });
  const tools = [
    { label: 'Bold', on: state?.bold, run: () => editor?.chain().focus().toggleBold().run() },
    { label: 'Italic', on: state?.italic, run: () => editor?.chain().focus().toggleItalic().run() },
    { label: 'Underline', on: state?.underline, run: () => editor?.chain().focus().toggleUnderline().run() },
    { label: 'List', on: state?.bullets, run: () => editor?.chain().focus().toggleBulletList().run() },
    { label: 'Numbers', on: state?.numbers, run: () => editor?.chain().focus().toggleOrderedList().run() },
  ];
  useEffect(() => {
    focus.current = () => editor?.commands.focus();
  });
  return (
    <View style={styles.text}>
      <EditorContent editor={editor} className="letter" />
      <View style={styles.foot}>
        {beneath}
        <View style={styles.tools}>
          {before}
          <View role="toolbar" aria-label="Formatting" style={styles.formatting}>
            {tools.map(({ label, on = false, run }) => (
              <Pressable
                key={label}
                role="button"
                aria-label={label}
                {...({ 'aria-pressed': on } as object)}
                onPress={run}
                style={[styles.tool, on && styles.on]}
              >
                <Text style={[styles.label, on && styles.onLabel]}>{label}</Text>
              </Pressable>
            ))}
          </View>
        </View>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  text: { flex: 1 },
  // In sight however long the text is.
  foot: {
    position: 'sticky',
    bottom: 0,
    backgroundColor: colour.ground,
    borderTopWidth: border.hair,
    borderTopColor: colour.line,
    zIndex: 1,
  } as object,
  tools: { flexDirection: 'row', flexWrap: 'wrap', columnGap: space.s },
  formatting: { flexDirection: 'row', flexShrink: 1, flexWrap: 'wrap', marginRight: -space.s },
  tool: { minHeight: space.touch, paddingHorizontal: 7, justifyContent: 'center' },
  on: { backgroundColor: colour.paleSea },
  label: { ...type.label, color: colour.soft },
  onLabel: { color: colour.sea },
});
