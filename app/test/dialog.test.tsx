import { act, render, screen } from '@testing-library/react';
import { Button, Dialog, Heading, Text } from '@under-lock/ui';
import { View } from 'react-native';

beforeAll(() => {
  HTMLDialogElement.prototype.showModal ??= function showModal(this: HTMLDialogElement) {
    this.open = true;
  };
  HTMLDialogElement.prototype.close ??= function close(this: HTMLDialogElement) {
    this.open = false;
  };
});

const nothing = (): void => undefined;

function Page({ opener, asking }: { opener: boolean; asking: boolean }) {
  return (
    <View role="main">
      <Heading level={1}>The message</Heading>
      {opener ? <Button label="Withdraw" onPress={nothing} /> : null}
      <Dialog title="Withdraw?" open={asking} onClose={nothing} actions={<Button label="Yes" onPress={nothing} />}>
        <Text>Sure?</Text>
      </Dialog>
    </View>
  );
}

const frame = (): Promise<void> => act(() => new Promise<void>((resolve) => requestAnimationFrame(() => resolve())));

test('when what opened a dialog is gone with it, the page’s heading has the focus', async () => {
  const { rerender } = render(<Page opener asking={false} />);
  act(() => screen.getByRole('button', { name: 'Withdraw' }).focus());
  rerender(<Page opener asking />);
  rerender(<Page opener={false} asking={false} />);
  await frame();
  expect(document.activeElement).toBe(screen.getByRole('heading', { name: 'The message' }));
});

test('what opened it and is still there is left alone', async () => {
  const { rerender } = render(<Page opener asking={false} />);
  const opener = screen.getByRole('button', { name: 'Withdraw' });
  act(() => opener.focus());
  rerender(<Page opener asking />);
  rerender(<Page opener asking={false} />);
  await frame();
  expect(document.activeElement).toBe(opener);
});

test('what came of an act is said beside the acts, not at the end of what is scrolled', () => {
  render(
    <Dialog
      title="Withdraw?"
      open
      onClose={nothing}
      said={{ tone: 'brick', text: 'It was refused.' }}
      actions={<Button label="Yes" onPress={nothing} />}
    >
      <Text>Sure?</Text>
    </Dialog>,
  );
  const said = screen.getByRole('alert', { hidden: true });
  const act = screen.getByRole('button', { name: 'Yes', hidden: true });
  const parts = [...screen.getByRole('heading', { name: 'Withdraw?', hidden: true }).parentElement!.children];
  const partOf = (element: Element): number => parts.findIndex((part) => part.contains(element));
  expect(partOf(said)).toBeGreaterThan(partOf(screen.getByText('Sure?')));
  expect(partOf(said)).toBeLessThan(partOf(act));
});
