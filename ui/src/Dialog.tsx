import { type CSSProperties, type ReactNode, useEffect, useLayoutEffect, useRef } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { TextButton } from './Button';
import { Result, type SaidOrFailed } from './Result';
import { Heading } from './Text';
import { border, colour, measure, radius, space } from './tokens';

/**
 * A question above the page: the browser's own modal dialog, which keeps the focus in, closes on Escape, quiets the
 * page behind it and gives
 * the focus back to the opener. (React Native Web's Modal loses its role when a second one follows, and keeps the
 * focus.)
 */
export function Dialog({ open, ...dialog }: DialogProps & { open: boolean }) {
  return open ? <OpenDialog {...dialog} /> : null;
}

/**
 * What opened it has the focus again, also where it was out of reach while the dialog lay above. It may be gone with
 * what was done: the page's heading takes the focus then, so that nobody starts again at the very top.
 */
function keepFocus(opener: Element | null): void {
  const isNowhere = (): boolean => document.activeElement === null || document.activeElement === document.body;
  if (!isNowhere() || opener === document.body) return;
  if (opener instanceof HTMLElement && opener.isConnected) opener.focus({ preventScroll: true });
  if (!isNowhere()) return;
  const heading = document.querySelector<HTMLElement>('main h1, [role="main"] h1, h1');
  heading?.setAttribute('tabindex', '-1');
  heading?.focus({ preventScroll: true });
}

interface DialogProps {
  title: string;
  /**
   * As wide as the window allows: for what is looked at rather than answered. Its acts stand beside the title and its
   * upper edge stays, so that nothing moves under the finger while what is looked at comes by and by.
   */
  broad?: boolean;
  onClose: () => void;
  children: ReactNode;
  /** What came of its act: beside the acts, and in sight however far its content reaches. */
  said?: SaidOrFailed;
  actions: ReactNode;
}

/** Of the browser's Navigation (HTML Living Standard §7.2.7), which its types here do not know yet. */
interface Going extends Event {
  navigationType: string;
}
type Navigation = EventTarget | undefined;

/** Back closes what lies above the page instead of leaving the page, where the browser lets it. */
function useBack(onBack: () => void): void {
  const latest = useRef(onBack);
  latest.current = onBack;
  useEffect(() => {
    const { navigation } = window as unknown as { navigation: Navigation };
    const going = (event: Event): void => {
      if ((event as Going).navigationType !== 'traverse' || !event.cancelable) return;
      event.preventDefault();
      latest.current();
    };
    navigation?.addEventListener('navigate', going);
    return () => navigation?.removeEventListener('navigate', going);
  }, []);
}

/** The browser's modal dialog, opened while it is drawn; the focus goes back when it is gone. */
function Modal({
  title,
  frame: style,
  onClose,
  children,
}: {
  title: string;
  frame: CSSProperties;
  onClose: () => void;
  children: ReactNode;
}) {
  const element = useRef<HTMLDialogElement>(null);
  useBack(onClose);
  useLayoutEffect(() => {
    const dialog = element.current;
    const opener = document.activeElement;
    dialog?.showModal();
    // What was drawn in it at the same time opened before it, and has to lie above.
    dialog?.querySelectorAll('dialog').forEach((inner) => {
      inner.close();
      inner.showModal();
    });
    return () => {
      // Closed while it is still in the page: only then does the focus go back.
      dialog?.close();
      requestAnimationFrame(() => keepFocus(opener));
    };
  }, []);
  return (
    <dialog
      ref={element}
      aria-label={title}
      onCancel={(event) => {
        event.preventDefault();
        onClose();
      }}
      style={style}
    >
      {children}
    </dialog>
  );
}

function OpenDialog({ title, broad = false, onClose, children, said, actions }: DialogProps) {
  const result = <Result said={said} />;
  return (
    <Modal title={title} frame={broad ? broadFrame : frame} onClose={onClose}>
      <View style={styles.sheet}>
        {broad ? (
          <View style={styles.broadHead}>
            <Heading level={2}>{title}</Heading>
            <View style={styles.actions}>{actions}</View>
          </View>
        ) : (
          <Heading level={2}>{title}</Heading>
        )}
        {broad ? result : null}
        <ScrollView style={styles.scroll} contentContainerStyle={styles.content}>
          {children}
        </ScrollView>
        {broad ? null : result}
        {broad ? null : <View style={styles.actions}>{actions}</View>}
      </View>
    </Modal>
  );
}

/** A second page over the whole screen, for a phone: its title, the way back, what it holds, and its acts at the foot. */
export function Sheet({
  title,
  back,
  onClose,
  children,
  under,
  foot,
  still = false,
}: {
  title: string;
  /** The words of the way back. */
  back: string;
  onClose: () => void;
  children: ReactNode;
  /** Stays under the title while the rest is scrolled. */
  under?: ReactNode;
  foot: ReactNode;
  /** Nothing in it takes the focus, so that it is scrolled by keys itself. */
  still?: boolean;
}) {
  return (
    <Modal title={title} frame={wholeFrame} onClose={onClose}>
      <View style={styles.whole}>
        <View style={styles.head}>
          <Heading level={2} style={styles.title}>
            {title}
          </Heading>
          <TextButton label={back} onPress={onClose} />
        </View>
        {under === undefined ? null : <View style={styles.under}>{under}</View>}
        <ScrollView
          style={styles.grow}
          contentContainerStyle={styles.wholeContent}
          {...(still ? ({ tabIndex: 0 } as object) : {})}
        >
          {children}
        </ScrollView>
        <View style={styles.foot}>{foot}</View>
      </View>
    </Modal>
  );
}

const frame = {
  width: `min(${measure.form + space.xxl * 2}px, calc(100vw - ${space.xxl}px))`,
  maxHeight: '92vh',
  padding: 0,
  border: `${border.hair}px solid ${colour.line}`,
  borderRadius: radius.m,
  backgroundColor: colour.paper,
  boxSizing: 'border-box',
  overflow: 'hidden',
} as const;

const broadFrame = {
  ...frame,
  width: `min(${measure.column + measure.form}px, calc(100vw - ${space.l}px))`,
  marginTop: '4vh',
} as const;

const wholeFrame = {
  width: '100vw',
  height: '100dvh',
  maxWidth: 'none',
  maxHeight: 'none',
  margin: 0,
  padding: 0,
  border: 0,
  backgroundColor: colour.paper,
  overflow: 'hidden',
} as const;

const styles = StyleSheet.create({
  whole: { flex: 1, height: '100%' },
  head: {
    flexDirection: 'row',
    justifyContent: 'space-between',
    alignItems: 'center',
    gap: space.m,
    paddingHorizontal: space.l,
    borderBottomWidth: border.hair,
    borderBottomColor: colour.line,
  },
  title: { paddingVertical: space.s },
  under: { padding: space.m, borderBottomWidth: border.hair, borderBottomColor: colour.line },
  grow: { flex: 1 },
  wholeContent: { padding: space.l, paddingBottom: space.xxl },
  foot: { padding: space.m, borderTopWidth: border.hair, borderTopColor: colour.line },
  sheet: { padding: space.xl, gap: space.l, maxHeight: '92vh' } as object,
  broadHead: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    justifyContent: 'space-between',
    alignItems: 'center',
    gap: space.s,
  },
  // Room for the mark of what has the focus, which the scrolling part would cut off.
  scroll: { flexGrow: 0, flexShrink: 1, marginHorizontal: -space.xs },
  content: { gap: space.m, paddingHorizontal: space.xs, paddingVertical: border.strong },
  actions: { flexDirection: 'row', flexWrap: 'wrap', gap: space.s },
});
