/**
 * The script of the self-opening page: asks the password, opens what the page carries, and sets it as text. Nothing
 * that comes out of it is ever taken for markup.
 */
import { JweError } from '@under-lock/core/jose/jwe';
import { type PageContents, openSealed } from '@under-lock/core/locks/file/page/open-page';
import { isLanguage } from '@under-lock/core/language';
import { type Block, type Run } from '@under-lock/core/message/blocks';
import { lockedPageWords } from './words';

const language = document.documentElement.lang;
const words = lockedPageWords[isLanguage(language) ? language : 'en'];

function element<Name extends keyof HTMLElementTagNameMap>(
  name: Name,
  text = '',
  attributes: Record<string, string> = {},
): HTMLElementTagNameMap[Name] {
  const made = document.createElement(name);
  if (text !== '') made.textContent = text;
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made;
}

function runElement({ text, bold, italic, code, href }: Run): Node {
  const isLink = href !== undefined && /^(?:https:\/\/|mailto:)/i.test(href);
  const inner = isLink
    ? element('a', '', { href, rel: 'noreferrer noopener', target: '_blank' })
    : element(code ? 'code' : bold ? 'strong' : italic ? 'em' : 'span');
  for (const [index, line] of text.split('\n').entries()) {
    if (index > 0) inner.append(element('br'));
    inner.append(line);
  }
  return inner;
}

const NAMES = { paragraph: 'p', item: 'p', quote: 'blockquote', code: 'pre', rule: 'hr', heading: 'h2' } as const;

function blockElement({ kind, level, marker, runs }: Block): HTMLElement {
  const made = element(NAMES[kind], '', { class: `${kind} in${Math.max(0, Math.min(6, level))}` });
  if (marker !== '') made.append(element('span', `${marker} `, { class: 'marker' }));
  made.append(...runs.map(runElement));
  return made;
}

function save(name: string, bytes: Uint8Array): void {
  const url = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'application/octet-stream' }));
  element('a', '', { href: url, download: name }).click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

const IMAGE = /\.(?:png|jpe?g|gif|webp)$/i;
const TEXT = /\.(?:txt|csv|md|log)$/i;
const SHOWN_TEXT = 200_000;

/** What a browser shows by itself without running anything. */
function preview(name: string, bytes: Uint8Array): HTMLElement | undefined {
  if (IMAGE.test(name))
    return element('img', '', { src: URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>])), alt: name });
  return TEXT.test(name)
    ? element('pre', new TextDecoder().decode(bytes.subarray(0, SHOWN_TEXT)), {
        tabindex: '0',
        role: 'region',
        'aria-label': name,
      })
    : undefined;
}

const size = (bytes: number): string =>
  new Intl.NumberFormat(language, {
    style: 'unit',
    unit: bytes < 1_000_000 ? 'kilobyte' : 'megabyte',
    maximumFractionDigits: 1,
  }).format(bytes / (bytes < 1_000_000 ? 1_000 : 1_000_000));

function fileItem({ name, bytes }: PageContents['files'][number]): HTMLElement {
  const item = element('li');
  const button = element('button', words.save, { type: 'button', 'aria-label': `${words.save} ${name}` });
  button.addEventListener('click', () => save(name, bytes));
  const row = element('div', '', { class: 'row' });
  row.append(element('span', `${name} · ${size(bytes.length)}`), button);
  item.append(row);
  const shown = preview(name, bytes);
  if (shown !== undefined) item.append(shown);
  return item;
}

function show({ message: { subject, head, blocks }, files }: PageContents): void {
  const main = document.querySelector('main')!;
  main.replaceChildren();
  const title = element('h1', subject || words.files, { tabindex: '-1' });
  main.append(title);
  if (head.length > 0) {
    const list = element('dl');
    for (const [word, said] of head) list.append(element('dt', word), element('dd', said));
    main.append(list);
  }
  main.append(...blocks.map(blockElement));
  if (files.length > 0) {
    if (subject !== '') main.append(element('h2', words.files));
    const list = element('ul');
    list.append(...files.map(fileItem));
    main.append(list);
  }
  main.append(element('p', words.stays, { class: 'soft' }));
  document.title = subject || words.title;
  title.focus();
}

function ask(sealed: string): void {
  document.title = words.title;
  const main = document.querySelector('main')!;
  const form = element('form');
  const input = element('input', '', {
    type: 'password',
    id: 'password',
    autocomplete: 'off',
    autocapitalize: 'none',
    spellcheck: 'false',
    'aria-describedby': 'said',
    required: '',
  });
  const label = element('label', words.password, { for: 'password' });
  const showing = element('input', '', { type: 'checkbox', id: 'showing' });
  showing.addEventListener('change', () => input.setAttribute('type', showing.checked ? 'text' : 'password'));
  const check = element('label', '', { for: 'showing', class: 'check' });
  check.append(showing, words.show);
  const button = element('button', words.open, { type: 'submit', class: 'main' });
  const said = element('p', '', { id: 'said', role: 'status' });
  form.append(label, input, check, button, said);
  form.addEventListener('submit', (event) => {
    event.preventDefault();
    if (button.disabled) return;
    button.disabled = true;
    said.className = '';
    said.textContent = words.opening;
    // Drawn before the browser is busy.
    setTimeout(
      () =>
        void openSealed(sealed, input.value).then(show, (error: unknown) => {
          said.className = 'wrong';
          said.textContent = `■ ${error instanceof JweError && error.code === 'wrong-password' ? words.wrong : words.damaged}`;
          button.disabled = false;
          input.focus();
        }),
      20,
    );
  });
  main.replaceChildren(element('h1', words.title), element('p', words.intro, { class: 'soft' }), form);
  input.focus();
}

const sealed = document.getElementById('sealed')?.textContent ?? '';
if (globalThis.crypto?.subtle === undefined)
  document.querySelector('main')!.append(element('p', words.tooOld, { class: 'wrong' }));
else ask(sealed);
