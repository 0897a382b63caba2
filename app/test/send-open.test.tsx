import { fireEvent, render, screen } from '@testing-library/react';
import { type ComponentProps, useState } from 'react';
import { type OpenAsked, type OpenWay, SendOpen } from '../src/handling/SendOpen';

function Asking(props: Omit<ComponentProps<typeof SendOpen>, 'asked' | 'onAsk'>) {
  const [asked, ask] = useState<OpenAsked | undefined>();
  return <SendOpen {...props} asked={asked} onAsk={ask} />;
}

const notice: OpenWay = { presetId: 'n', name: 'Public notice', sentence: 'For timetables.' };
beforeAll(() => {
  HTMLDialogElement.prototype.showModal ??= function showModal(this: HTMLDialogElement) {
    this.open = true;
  };
  HTMLDialogElement.prototype.close ??= function close(this: HTMLDialogElement) {
    this.open = false;
  };
});

test('nothing leaves open without a reason, and the reason is said where it does', () => {
  const opened: unknown[] = [];
  const { rerender } = render(
    <Asking
      ways={[notice]}
      chosen={undefined}
      reason={undefined}
      onOpen={(...given) => opened.push(given)}
      onLock={() => undefined}
    />,
  );
  fireEvent.click(screen.getByText('Nothing in it is secret …'));
  fireEvent.click(screen.getByText('Let it leave open'));
  expect(opened).toEqual([]);
  expect(screen.getByText(/Say in a few words why anybody may read it/)).toBeTruthy();
  fireEvent.change(screen.getByLabelText('Why nothing in it is secret'), {
    target: { value: '  It hangs on the pier ' },
  });
  fireEvent.click(screen.getByText('Let it leave open'));
  expect(opened).toEqual([['n', 'It hangs on the pier']]);
  rerender(
    <Asking
      ways={[notice]}
      chosen={notice}
      reason="It hangs on the pier"
      onOpen={() => undefined}
      onLock={() => opened.push('locked')}
    />,
  );
  expect(screen.getByText(/It leaves open, under “Public notice”.*“It hangs on the pier”/)).toBeTruthy();
  fireEvent.click(screen.getByText('Send it under lock instead'));
  expect(opened.at(-1)).toBe('locked');
});

test('a rule that allows it is named as one', () => {
  const rule: OpenWay = { presetId: undefined, name: 'Timetables', sentence: 'They hang on every pier.' };
  const opened: unknown[] = [];
  render(
    <Asking
      ways={[rule]}
      chosen={undefined}
      reason={undefined}
      onOpen={(...given) => opened.push(given)}
      onLock={() => undefined}
    />,
  );
  fireEvent.click(screen.getByText('Nothing in it is secret …'));
  expect(screen.getByText(/As the rule “Timetables” allows\. They hang on every pier\./)).toBeTruthy();
  fireEvent.change(screen.getByLabelText('Why nothing in it is secret'), { target: { value: 'On the pier' } });
  fireEvent.click(screen.getByText('Let it leave open'));
  expect(opened).toEqual([[undefined, 'On the pier']]);
});

test('an office without such a preset is offered no such thing', () => {
  const { container } = render(
    <Asking ways={[]} chosen={undefined} reason={undefined} onOpen={() => undefined} onLock={() => undefined} />,
  );
  expect(container.textContent).toBe('');
});
