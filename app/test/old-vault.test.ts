import { metOld, oldVault } from '../src/threads/old-vault';

test('what is old is told apart, and stays told until it is taken back', () => {
  metOld('person');
  expect([...oldVault.get()]).toEqual(['vault']);
  metOld('book-firm');
  metOld('draft');
  expect([...oldVault.get()].sort()).toEqual(['book', 'vault']);
  oldVault.set(new Set());
  metOld('book-person');
  expect([...oldVault.get()]).toEqual(['book']);
});
