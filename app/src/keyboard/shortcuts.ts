/** The keys there are, as they are shown; where each works, its button says so itself. */
export interface Shortcut {
  /** As in `aria-keyshortcuts`; several for the same. */
  keys: readonly string[];
  /** The word between two. */
  between?: string;
  does: string;
}

export const SHORTCUTS: readonly { where: string; keys: readonly Shortcut[] }[] = [
  {
    where: 'Everywhere',
    keys: [
      { keys: ['n'], does: 'Write a new message' },
      { keys: ['/'], does: 'Search' },
      { keys: ['1', '7'], between: 'to', does: 'Desk, Write, Mail, People, Keys, Office, Account' },
      { keys: ['?'], does: 'Show these keys' },
    ],
  },
  {
    where: 'In a list',
    keys: [
      { keys: ['ArrowDown', 'ArrowUp'], does: 'Next and previous line' },
      { keys: ['Home', 'End'], does: 'First and last line' },
      { keys: ['Alt+ArrowDown', 'Alt+ArrowUp'], does: 'Next and previous from the page beside it' },
    ],
  },
  {
    where: 'On a message',
    keys: [
      { keys: ['w'], does: 'Withdraw it' },
      { keys: ['a'], does: 'Answer it' },
    ],
  },
  {
    where: 'While writing',
    keys: [
      { keys: ['Control+Enter'], does: 'Send' },
      { keys: ['Escape'], does: 'Close what lies above the page' },
    ],
  },
];

const NAMES: Record<string, string> = {
  ArrowDown: '↓',
  ArrowUp: '↑',
  Control: 'Ctrl',
  Escape: 'Esc',
};

/** `Control+Enter` as it stands on a keyboard. */
export const keyInWords = (key: string): string =>
  key
    .split('+')
    .map((part) => NAMES[part] ?? (part.length === 1 ? part.toUpperCase() : part))
    .join(' ');
