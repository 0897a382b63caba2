/** The kit by the roles and names that a screen reader hears. */
import { fireEvent, render, screen, within } from '@testing-library/react';
import {
  Banner,
  Button,
  Check,
  Choice,
  Empty,
  Field,
  Loading,
  OnEnter,
  PasswordField,
  Progress,
  Section,
  StateMark,
  Text,
  TextButton,
} from '@under-lock/ui';
import { useState } from 'react';

test('a day is the browser’s own field, within its bounds, and Enter in it does what the form does', () => {
  const said: string[] = [];
  render(
    <OnEnter does={() => said.push('done')}>
      <Field
        label="Date"
        inputType="date"
        min="2026-11-26"
        max="2027-11-26"
        value="2026-12-03"
        onChangeText={(text) => said.push(text)}
      />
    </OnEnter>,
  );
  const field = screen.getByLabelText<HTMLInputElement>('Date');
  expect([field.type, field.min, field.max, field.value]).toEqual(['date', '2026-11-26', '2027-11-26', '2026-12-03']);
  fireEvent.change(field, { target: { value: '2026-12-04' } });
  fireEvent.keyDown(field, { key: 'Enter' });
  expect(said).toEqual(['2026-12-04', 'done']);
});

test('a field’s hint and error are said with it, and only then is it wrong', () => {
  const { rerender } = render(<Field label="Address" hint="Of the office" value="" onChangeText={() => undefined} />);
  const field = (): HTMLElement => screen.getByRole('textbox', { name: 'Address' });
  const described = (): string =>
    (field().getAttribute('aria-describedby') ?? '')
      .split(' ')
      .map((id) => document.getElementById(id)?.textContent ?? '')
      .join(' | ');
  expect([field().getAttribute('aria-invalid'), described()]).toEqual(['false', 'Of the office']);
  rerender(
    <Field label="Address" hint="Of the office" value="" error="That is no address." onChangeText={() => undefined} />,
  );
  expect([field().getAttribute('aria-invalid'), described()]).toEqual([
    'true',
    'Of the office | ■ That is no address.',
  ]);
  rerender(<Field label="Address" value="" onChangeText={() => undefined} />);
  expect(field().getAttribute('aria-describedby')).toBeNull();
});

test('what is typed is told', () => {
  const told: string[] = [];
  render(<Field label="Name" value="" onChangeText={(text) => told.push(text)} />);
  fireEvent.change(screen.getByRole('textbox', { name: 'Name' }), { target: { value: 'Łódź' } });
  expect(told).toEqual(['Łódź']);
});

test('Enter in a one-line field does what the form’s button does, unless the field says otherwise or the button can’t be pressed', () => {
  const done: string[] = [];
  const form = (does: (() => void) | undefined) => (
    <OnEnter does={does}>
      <Field label="Phone" value="" onChangeText={() => undefined} />
      <PasswordField label="Password" value="" onChangeText={() => undefined} />
      <Field label="Note" multiline value="" onChangeText={() => undefined} />
      <Field label="Search" value="" onChangeText={() => undefined} onSubmitEditing={() => done.push('search')} />
    </OnEnter>
  );
  const { rerender } = render(form(() => done.push('form')));
  const press = (label: string): void =>
    void fireEvent.keyDown(screen.getByLabelText(label, { selector: 'input, textarea' }), { key: 'Enter' });
  for (const label of ['Phone', 'Password', 'Note', 'Search']) press(label);
  expect(done).toEqual(['form', 'form', 'search']);
  rerender(form(undefined));
  press('Phone');
  expect(done).toHaveLength(3);
});

test('a password is hidden until it is wanted seen, and its button says whose it is', () => {
  render(<PasswordField label="Password of the file" value="tide table" onChangeText={() => undefined} />);
  const field = screen.getByLabelText('Password of the file');
  expect(field.getAttribute('type')).toBe('password');
  fireEvent.click(screen.getByRole('button', { name: 'Show password of the file' }));
  expect(screen.getByLabelText('Password of the file').getAttribute('type')).not.toBe('password');
  fireEvent.click(screen.getByRole('button', { name: 'Hide password of the file' }));
  expect(screen.getByLabelText('Password of the file').getAttribute('type')).toBe('password');
});

function Chooser({ told }: { told: string[] }) {
  const [value, setValue] = useState<'a' | 'b' | 'c'>('a');
  return (
    <Choice
      label="Handling"
      value={value}
      onChange={(next) => {
        told.push(next);
        setValue(next);
      }}
      options={[
        { value: 'a', label: 'Everyday' },
        { value: 'b', label: 'Health', detail: 'Never saved' },
        { value: 'c', label: 'Pay', disabled: true },
      ]}
    />
  );
}

test('of several one is chosen at a time; one that can’t be is said and stays', () => {
  const told: string[] = [];
  render(<Chooser told={told} />);
  const group = within(screen.getByRole('radiogroup', { name: 'Handling' }));
  const checked = (): (string | null)[] => group.getAllByRole('radio').map((one) => one.getAttribute('aria-checked'));
  expect(checked()).toEqual(['true', 'false', 'false']);
  fireEvent.click(group.getByRole('radio', { name: 'Health, Never saved' }));
  fireEvent.click(group.getByRole('radio', { name: 'Pay' }));
  expect(checked()).toEqual(['false', 'true', 'false']);
  expect(told).toEqual(['b']);
  expect(group.getByRole('radio', { name: 'Pay' }).getAttribute('aria-disabled')).toBe('true');
});

test('yes or no goes to and fro, with its explanation in its name', () => {
  const told: boolean[] = [];
  const { rerender } = render(
    <Check label="Watermark" detail="Over text and files" value={false} onChange={(value) => told.push(value)} />,
  );
  const box = (): HTMLElement => screen.getByRole('checkbox', { name: 'Watermark, Over text and files' });
  expect(box().getAttribute('aria-checked')).toBe('false');
  fireEvent.click(box());
  rerender(<Check label="Watermark" detail="Over text and files" value onChange={(value) => told.push(value)} />);
  expect(box().getAttribute('aria-checked')).toBe('true');
  fireEvent.click(box());
  expect(told).toEqual([true, false]);
});

test('what matters is said at once when it is grave, and quietly otherwise; a form stands before it, never colour alone', () => {
  render(
    <>
      <Banner tone="brick">It was changed.</Banner>
      <Banner tone="amber">Not signed.</Banner>
      <Banner tone="sea" actions={<Button label="Look" onPress={() => undefined} />}>
        All is well.
      </Banner>
    </>,
  );
  expect(screen.getByRole('alert').textContent).toBe('■It was changed.');
  expect(screen.getAllByRole('status').map((one) => one.textContent)).toEqual(['▲Not signed.', '●All is well.Look']);
  expect(screen.getByRole('button', { name: 'Look' })).toBeTruthy();
});

test('states carry a form and a word', () => {
  render(
    <>
      <StateMark tone="done" word="valid" />
      <StateMark tone="wants" word="not backed up" />
      <StateMark tone="stopped" word="revoked" />
      <StateMark tone="over" word="closed" />
    </>,
  );
  for (const said of ['● valid', '▲ not backed up', '■ revoked', '○ closed'])
    expect(screen.getByText(said)).toBeTruthy();
});

test('waiting and progress have names; progress stays between nothing and all', () => {
  const { rerender } = render(
    <>
      <Loading what="Opening your keys" />
      <Progress done={0.416} label="Uploading" />
    </>,
  );
  expect(screen.getByRole('status', { name: 'Opening your keys' })).toBeTruthy();
  const bar = (): (string | null)[] =>
    ['aria-valuemin', 'aria-valuenow', 'aria-valuemax'].map((name) =>
      screen.getByRole('progressbar', { name: 'Uploading' }).getAttribute(name),
    );
  expect(bar()).toEqual(['0', '42', '100']);
  for (const [done, now] of [
    [-1, '0'],
    [7, '100'],
  ] as const) {
    rerender(<Progress done={done} label="Uploading" />);
    expect(bar()[1]).toBe(now);
  }
});

test('a section is headed, an empty place says what would be there and what to do', () => {
  render(
    <Section title="Your certificates" aside="0">
      <Empty title="None yet" action={<Button label="Get one" onPress={() => undefined} />}>
        It takes a minute.
      </Empty>
    </Section>,
  );
  expect(screen.getByRole('heading', { level: 2, name: 'Your certificates' })).toBeTruthy();
  expect(screen.getByText('It takes a minute.')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Get one' })).toBeTruthy();
});

test('a button that is busy can’t be pressed twice, and says that it opens something', () => {
  const press = jest.fn();
  const { rerender } = render(<Button label="Send" busy onPress={press} />);
  fireEvent.click(screen.getByRole('button', { name: /Send/ }));
  expect(press).not.toHaveBeenCalled();
  rerender(<Button label="More" expanded={false} onPress={press} />);
  expect(screen.getByRole('button', { name: 'More' }).getAttribute('aria-expanded')).toBe('false');
  fireEvent.click(screen.getByRole('button', { name: 'More' }));
  expect(press).toHaveBeenCalledTimes(1);
  rerender(<TextButton label="Change" describe="Change how Pell proves who they are" onPress={press} />);
  fireEvent.click(screen.getByRole('button', { name: 'Change how Pell proves who they are' }));
  expect(press).toHaveBeenCalledTimes(2);
});

test('words that are text stay text', () => {
  render(<Text>{'<img src=x onerror=alert(1)>'}</Text>);
  expect(screen.getByText('<img src=x onerror=alert(1)>')).toBeTruthy();
  expect(document.querySelector('img')).toBeNull();
});
