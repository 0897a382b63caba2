/** Files looked at one after the other, larger and smaller, and searched where their words may be copied. */
import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { type MessageFile } from '@under-lock/core/message/content';
import { useState } from 'react';
import { FileList } from '../src/files/FileList';
import { Viewer } from '../src/files/Viewer';

const file = (name: string, text: string, type = 'text/plain'): MessageFile => ({
  name,
  type,
  bytes: new TextEncoder().encode(text) as Uint8Array<ArrayBuffer>,
});
const files = [
  file('tides.txt', 'High water at six.\nLow water at noon. WATER.'),
  file('crew.csv', 'name,rank\nPell,deckhand'),
  file('sheet.bin', '\0\x01', 'application/octet-stream'),
];

beforeAll(() => {
  // What browsers have and jsdom lacks.
  HTMLDialogElement.prototype.showModal = function show() {
    this.open = true;
  };
  HTMLDialogElement.prototype.close = function close() {
    this.open = false;
  };
  Element.prototype.scrollIntoView = () => undefined;
});

function Shown({ readable, onClose = () => undefined }: { readable: boolean; onClose?: () => void }) {
  const [at, setAt] = useState(0);
  return (
    <Viewer
      files={files.slice(0, 2)}
      at={at}
      onAt={setAt}
      onClose={onClose}
      pdfBase="/pdf"
      readable={readable}
      over={<span>For Pell Anders</span>}
    />
  );
}
const press = (name: string): Promise<void> =>
  act(async () => void fireEvent.click(screen.getByRole('button', { name })));
const isOff = (name: string): boolean => screen.getByRole('button', { name }).getAttribute('aria-disabled') === 'true';
const find = (phrase: string): Promise<void> =>
  act(async () => void fireEvent.change(screen.getByLabelText('Find in this file'), { target: { value: phrase } }));
const current = (): string | null => document.querySelector('[data-found="current"]')?.textContent ?? null;

test('from one file to the next and back, by button and by arrow, and no further', async () => {
  render(<Shown readable />);
  expect(screen.getByRole('dialog', { name: 'tides.txt' })).toBeTruthy();
  expect([screen.getByText('File 1 of 2').textContent, isOff('Previous'), isOff('Next')]).toEqual([
    'File 1 of 2',
    true,
    false,
  ]);
  await press('Next');
  expect(screen.getByRole('dialog', { name: 'crew.csv' })).toBeTruthy();
  expect(screen.getByText(/Pell,deckhand/)).toBeTruthy();
  expect([isOff('Previous'), isOff('Next')]).toEqual([false, true]);
  await act(async () => void fireEvent.keyDown(screen.getByText(/Pell,deckhand/), { key: 'ArrowRight' }));
  expect(screen.getByRole('dialog', { name: 'crew.csv' })).toBeTruthy();
  await act(async () => void fireEvent.keyDown(screen.getByText(/Pell,deckhand/), { key: 'ArrowLeft' }));
  expect(screen.getByRole('dialog', { name: 'tides.txt' })).toBeTruthy();
});

test('larger and smaller, to an end each; larger, the arrows are left to the page', async () => {
  render(<Shown readable />);
  for (const zoom of ['150 %', '200 %', '300 %', '400 %']) {
    await press('Larger');
    expect(screen.getByText(zoom)).toBeTruthy();
  }
  expect(isOff('Larger')).toBe(true);
  await act(async () => void fireEvent.keyDown(screen.getByText(/High water/), { key: 'ArrowRight' }));
  expect(screen.getByRole('dialog', { name: 'tides.txt' })).toBeTruthy();
  for (let turn = 0; turn < 6; turn++) await press('Smaller');
  expect([screen.getByText('50 %').textContent, isOff('Smaller')]).toEqual(['50 %', true]);
});

test('what is found is counted, marked and walked through, round and round', async () => {
  render(<Shown readable />);
  await press('Find');
  await find('water');
  expect(screen.getByRole('status').textContent).toBe('1 of 3');
  expect([...document.querySelectorAll('[data-found]')].map(({ textContent }) => textContent)).toEqual([
    'water',
    'water',
    'WATER',
  ]);
  await press('Previous place');
  expect([screen.getByRole('status').textContent, current()]).toEqual(['3 of 3', 'WATER']);
  await press('Next place');
  expect(screen.getByRole('status').textContent).toBe('1 of 3');
  await find('anchor');
  expect([screen.getByRole('status').textContent, isOff('Next place')]).toEqual(['Not found.', true]);
  // The file says the same as before.
  expect(screen.getByText(/High water at six/).textContent).toBe('High water at six.\nLow water at noon. WATER.');
  // Another file begins without it.
  await press('Next');
  expect(screen.queryByLabelText('Find in this file')).toBeNull();
});

test('where words may not be copied they can’t be searched, and what lies over them lies over the file, too', () => {
  render(<Shown readable={false} />);
  expect(screen.queryByRole('button', { name: 'Find' })).toBeNull();
  expect(within(screen.getByRole('dialog')).getByText('For Pell Anders')).toBeTruthy();
});

test('the list opens what can be shown, and says of the rest what can be done', async () => {
  const rights = { save: true, print: false, copy: true };
  render(
    <FileList
      files={files}
      rights={rights}
      pdfBase="/pdf"
      onSave={async () => undefined}
      onPrint={async () => undefined}
    />,
  );
  expect(screen.getByText(/can’t be shown on this page/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Look sheet.bin' })).toBeNull();
  await press('Look crew.csv');
  // Of those that can be shown.
  expect(screen.getByText('File 2 of 2')).toBeTruthy();
  await press('Close');
  expect(screen.queryByRole('dialog')).toBeNull();
});
