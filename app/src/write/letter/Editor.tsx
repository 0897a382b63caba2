/** Formatted text by Tiptap; what it holds is HTML of a few plain elements and the same as text. */
import { EditorContent, useEditor, useEditorState } from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import { border, colour, radius, space, type } from '@under-lock/ui';
import { Pressable, StyleSheet, Text, View } from 'react-native';

interface Props {
  /** What it begins with; another version gets another editor. */
  html: string;
  onChange: (html: string, text: string) => void;
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
];

export function Editor({ html, onChange }: Props) {
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
  return (
    <View style={styles.sheet}>
      <View role="toolbar" aria-label="Formatting" style={styles.tools}>
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
      <EditorContent editor={editor} />
    </View>
  );
}

const styles = StyleSheet.create({
  sheet: {
    backgroundColor: colour.paper,
    borderWidth: border.hair,
    borderColor: colour.line,
    borderRadius: radius.m,
    overflow: 'hidden',
  },
  tools: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    borderBottomWidth: border.hair,
    borderBottomColor: colour.line,
    paddingHorizontal: space.xs,
  },
  tool: { minHeight: space.touch, paddingHorizontal: space.m, justifyContent: 'center' },
  on: { backgroundColor: colour.paleSea },
  label: { ...type.label, color: colour.soft },
  onLabel: { color: colour.sea },
});
