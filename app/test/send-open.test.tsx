import { fireEvent, render, screen } from '@testing-library/react';
import { type Preset } from '@under-lock/contract/handling';
import { ALL_RIGHTS } from '@under-lock/core/handling/handling';
import { SendOpen } from '../src/handling/SendOpen';

const notice: Preset = {
  id: 'n',
  name: 'Public notice',
  sentence: 'For timetables.',
  active: true,
  isDefault: false,
  others: false,
  terms: {
    closing: { kind: 'two-weeks' },
    check: 'question',
    question: false,
    rights: ALL_RIGHTS,
    watermark: false,
    copies: false,
    clear: true,
    textOpen: false,
    audience: 'anyone',
    receipt: false,
    remindHours: 0,
    mayLoosen: { closing: false, identity: false, rights: false },
  },
};
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
    <SendOpen
      presets={[notice]}
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
    <SendOpen
      presets={[notice]}
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

test('an office without such a preset is offered no such thing', () => {
  const { container } = render(
    <SendOpen presets={[]} chosen={undefined} reason={undefined} onOpen={() => undefined} onLock={() => undefined} />,
  );
  expect(container.textContent).toBe('');
});
