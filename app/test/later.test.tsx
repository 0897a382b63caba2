/** What comes when it is first shown: drawn as soon as it is there, once fetched for all, and asked for again after a failure. */
import { act, render, screen } from '@testing-library/react';
import { later } from '@under-lock/ui/later';
import { Component, type ComponentType, type ReactNode } from 'react';

const Hello = ({ name }: { name: string }) => <p>{`Hello ${name}`}</p>;
const Waiting = ({ name }: { name: string }) => <p>{`Fetching ${name}`}</p>;

class Caught extends Component<{ children: ReactNode }, { error?: Error }> {
  override state: { error?: Error } = {};
  static getDerivedStateFromError = (error: Error) => ({ error });
  override render() {
    return this.state.error === undefined ? this.props.children : <p>{this.state.error.message}</p>;
  }
}

test('others show that it comes, with what it was given; then it is there, and the next time at once', async () => {
  let come: (found: ComponentType<{ name: string }>) => void = () => undefined;
  const load = jest.fn(() => new Promise<ComponentType<{ name: string }>>((resolve) => (come = resolve)));
  const Later = later(load, Waiting);
  const first = render(
    <>
      <Later name="Pell" />
      <Later name="Maren" />
    </>,
  );
  expect(screen.queryByText('Fetching Pell')).not.toBeNull();
  await act(async () => come(Hello));
  expect(screen.queryByText('Hello Pell')).not.toBeNull();
  expect(screen.queryByText('Hello Maren')).not.toBeNull();
  first.unmount();
  render(<Later name="Anna" />);
  expect(screen.queryByText('Hello Anna')).not.toBeNull();
  expect(load).toHaveBeenCalledTimes(1);
});

test('what can’t be had is thrown to whoever catches it, and asked for again when it is shown anew', async () => {
  const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const load = jest
    .fn<Promise<ComponentType<{ name: string }>>, []>()
    .mockRejectedValueOnce(new Error('No such file'))
    .mockResolvedValueOnce(Hello);
  const Later = later(load);
  const failed = render(
    <Caught>
      <Later name="Pell" />
    </Caught>,
  );
  expect(failed.container.textContent).toBe('');
  await act(async () => undefined);
  expect(screen.queryByText('No such file')).not.toBeNull();
  failed.unmount();
  render(<Later name="Pell" />);
  await act(async () => undefined);
  expect(screen.queryByText('Hello Pell')).not.toBeNull();
  said.mockRestore();
});
