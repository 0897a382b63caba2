import { act, fireEvent, render } from '@testing-library/react';
import { HtmlFrame } from '@under-lock/ui/clean-html';

/** Shows it as a browser would, in which the text is this high. */
function shown(html: string): { frame: HTMLIFrameElement; opens(textHeight: number): void; leave(): void } {
  const { container, unmount } = render(<HtmlFrame html={html} title="Message" />);
  const frame = container.querySelector('iframe')!;
  return {
    frame,
    opens(textHeight) {
      const inner = document.implementation.createHTMLDocument();
      Object.defineProperty(inner, 'fonts', { value: { add: () => undefined, ready: new Promise(() => undefined) } });
      inner.documentElement.getBoundingClientRect = () => ({ height: textHeight }) as DOMRect;
      // What a browser says of a frame that is higher than its text.
      Object.defineProperty(inner.documentElement, 'scrollHeight', {
        get: () => Math.max(textHeight, parseInt(frame.style.height, 10)),
      });
      Object.defineProperty(inner.body, 'scrollHeight', { value: textHeight });
      Object.defineProperty(frame, 'contentDocument', { value: inner, configurable: true });
      act(() => void fireEvent.load(frame));
    },
    leave: unmount,
  };
}

test('a frame is as high as its text, and when it is shown again it is so from the beginning', () => {
  const first = shown('<p>The berths are as agreed.</p>');
  first.opens(56);
  expect(first.frame.style.height).toBe('56px');
  first.leave();
  const again = shown('<p>The berths are as agreed.</p>');
  expect(again.frame.style.height).toBe('56px');
  again.opens(80);
  expect(again.frame.style.height).toBe('80px');
});

test('a window that changes its size while the text is still on its way breaks nothing; the frame is as high as its text once it is there', () => {
  const { frame, opens } = shown('<p>The berths are as agreed for spring.</p>');
  const before = frame.style.height;
  for (const remove of ['body', 'documentElement'] as const) {
    const begun = document.implementation.createHTMLDocument();
    begun[remove].remove();
    Object.defineProperty(frame, 'contentDocument', { value: begun, configurable: true });
    act(() => void fireEvent(window, new Event('resize')));
    expect(frame.style.height).toBe(before);
  }
  opens(72);
  expect(frame.style.height).toBe('72px');
});
