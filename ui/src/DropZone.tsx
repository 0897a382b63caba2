/**
 * Everything inside takes dropped and pasted files, or all of the page. Apart from the other components: a reader's first page
 * does without.
 */
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { border, colour, space } from './tokens';

/** Browsers call every picture that is pasted “image.png”. */
function withOwnName(file: File): File {
  if (!/^image\.\w+$/.test(file.name)) return file;
  const at = new Date();
  const two = (part: number): string => String(part).padStart(2, '0');
  const name = `picture-${two(at.getHours())}${two(at.getMinutes())}${two(at.getSeconds())}`;
  return new File([file], file.name.replace('image', name), { type: file.type });
}

export function DropZone({
  onFiles,
  anywhere = false,
  fills = false,
  children,
}: {
  onFiles: (files: File[]) => void;
  /** A file that falls beside it counts, too. */ anywhere?: boolean;
  /** Takes the room there is, and parts nothing from the next. */ fills?: boolean;
  children: ReactNode;
}) {
  const zone = useRef<View>(null);
  const [over, setOver] = useState(false);
  const handler = useRef(onFiles);
  handler.current = onFiles;
  useEffect(() => {
    const element = anywhere ? document.documentElement : (zone.current as unknown as HTMLElement | null);
    if (element === null) return undefined;
    const carriesFiles = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false;
    const drag = (event: DragEvent): void => {
      if (!carriesFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent): void => {
      if (!element.contains(event.relatedTarget as Node | null)) setOver(false);
    };
    const drop = (event: DragEvent): void => {
      if (!carriesFiles(event)) return;
      event.preventDefault();
      event.stopPropagation();
      setOver(false);
      handler.current([...(event.dataTransfer?.files ?? [])]);
    };
    // Text that was copied comes with a picture of itself now and then: then it is the text that is meant.
    const paste = (event: ClipboardEvent): void => {
      const files = [...(event.clipboardData?.files ?? [])];
      if (files.length === 0 || event.clipboardData?.types.includes('text/plain') === true) return;
      event.preventDefault();
      event.stopPropagation();
      handler.current(files.map(withOwnName));
    };
    element.addEventListener('paste', paste, true);
    element.addEventListener('dragover', drag, true);
    element.addEventListener('dragleave', leave);
    element.addEventListener('drop', drop, true);
    return () => {
      element.removeEventListener('paste', paste, true);
      element.removeEventListener('dragover', drag, true);
      element.removeEventListener('dragleave', leave);
      element.removeEventListener('drop', drop, true);
    };
  }, [anywhere]);
  return (
    <View ref={zone} testID="drop-zone" style={[styles.zone, fills && styles.fills, over && styles.over]}>
      {children}
    </View>
  );
}

const styles = StyleSheet.create({
  zone: {
    gap: space.l,
    // Its edge is drawn while something is held over it only: the system’s own colours show a transparent one, too.
    padding: border.strong,
    borderStyle: 'dashed',
    margin: -border.strong,
  },
  fills: { flexGrow: 1, gap: 0 },
  over: { padding: 0, borderWidth: border.strong, borderColor: colour.sea, backgroundColor: colour.paleSea },
});
