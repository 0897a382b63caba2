/** The script of a mail slot's page: asks what slot it is, shows its form, and has a thread do the work. */
import { slotPaths } from '@under-lock/contract/slot-paths';
import { firstSpoken } from '@under-lock/core/language';
import { threadScript } from '@under-lock/ui/thread-script';
import built from 'slot-built';
import { proxy, type Remote, wrap } from 'comlink';
import { chooseForGood, onLanguage, speakAs, wantedLanguages } from '../spoken';
import { filled } from './built';
import { Form } from './form';
import { Leaving, type Slot } from './leaving';
import { Parts } from './parts';
import { type SlotDoor } from '../threads/slot';

interface Looked {
  officeName: string;
  colour: string;
  name: string;
  proves: boolean;
  maxBytes: number;
}

/** The thread; one whose script did not come is asked for again. */
class Thread {
  private started: Promise<Remote<SlotDoor>> | undefined;

  door(): Promise<Remote<SlotDoor>> {
    this.started ??= this.start();
    return this.started;
  }

  private start(): Promise<Remote<SlotDoor>> {
    const thread = new Worker(threadScript('slot'));
    const door = wrap<SlotDoor>(thread);
    return new Promise((resolve, reject) => {
      thread.onerror = () => {
        this.started = undefined;
        reject(new Error('The thread did not come'));
      };
      // Answers once it is there.
      void door.isBegun({ files: [] } as never).then(() => resolve(door));
    });
  }
}

const tokenOf = (): string => window.location.pathname.split('/')[2] ?? '';

async function look(token: string): Promise<Looked | 'closed'> {
  const response = await fetch(slotPaths.look.replace(':token', encodeURIComponent(token)), {
    credentials: 'same-origin',
  });
  if (response.status === 404) return 'closed';
  if (!response.ok) throw new Error(String(response.status));
  return (await response.json()) as Looked;
}

/** Copied to wherever its reader keeps such things. */
async function copyReceipt(parts: Parts): Promise<void> {
  const said = (['number', 'answer-code'] as const)
    .filter((part) => part === 'number' || !parts.at('code-row').hidden)
    .map((part) => `${part === 'number' ? parts.words.number : parts.words.code}: ${parts.at(part).textContent}`);
  await navigator.clipboard.writeText(said.join('\n'));
  parts.show('copied', true);
}

/** A file dialog of the browser's, behind our button. */
function choosesFiles(parts: Parts, form: Form): void {
  const picker = Object.assign(document.createElement('input'), { type: 'file', multiple: true, hidden: true });
  picker.setAttribute('aria-label', parts.words.addFiles);
  picker.addEventListener('change', () => {
    form.addFiles(picker.files ?? []);
    picker.value = '';
  });
  parts.at('files').after(picker);
  parts.onPress(parts.words.addFiles, () => picker.click());
}

function begin(parts: Parts, looked: Looked, language: string): void {
  const slot: Slot = { ...looked, token: tokenOf() };
  const { words } = parts;
  const thread = new Thread();
  const form = new Form(parts, slot, language);
  const leaving = new Leaving(
    parts,
    form,
    slot,
    language,
    () => thread.door(),
    (progress) => proxy(progress),
  );
  parts.fill('intro', words.intro, { slot: slot.name });
  if (!slot.proves) parts.dropHint(words.address);
  choosesFiles(parts, form);
  parts.onPress(words.more, () => {
    parts.show('more', true);
    parts.field(words.phone).focus();
    parts.button(words.more).hidden = true;
  });
  parts.onPress(words.leave, () => void leaving.press());
  parts.onPress(words.confirm, () => void leaving.confirm());
  parts.onPress(words.again, () => void leaving.sendAgain());
  parts.onPress(words.back, () => parts.go('form', 'field'));
  parts.onPress(words.stop, () => void leaving.stop());
  parts.onPress(words.another, () => parts.go('form', 'none'));
  parts.onPress(words.copy, () => void copyReceipt(parts).catch(() => undefined));
  parts.field(words.digits).addEventListener('keydown', (event) => {
    if ((event as KeyboardEvent).key === 'Enter') void leaving.confirm();
  });
  // What takes its time begins while one writes.
  parts.at('form').addEventListener(
    'focusin',
    () =>
      void thread.door().then(
        (door) => door.prepare(slot.token),
        () => undefined,
      ),
    { once: true },
  );
  window.addEventListener('beforeunload', (event) => {
    if (parts.stage !== 'closed' && !form.isEmpty) event.preventDefault();
  });
  parts.go('form', 'none');
}

async function start(): Promise<void> {
  const language = firstSpoken(wantedLanguages());
  const { html, words } = built[language];
  const parts = new Parts(document.getElementById('root')!, words, html);
  speakAs(language);
  onLanguage(document, chooseForGood);
  document.title = words.title;
  const band = document.querySelector<HTMLElement>('[role="banner"]')!;
  const name = [...band.querySelectorAll('*')].find(
    ({ textContent, childElementCount }) => childElementCount === 0 && textContent === '{office}',
  )!;
  name.textContent = '';
  const tryIt = async (): Promise<void> => {
    parts.go('loading', 'none');
    try {
      const looked = await look(tokenOf());
      if (looked === 'closed') return parts.go('closed', 'none');
      name.textContent = looked.officeName;
      band.style.backgroundColor = looked.colour;
      document.title = filled('{office} · {title}', { office: looked.officeName, title: words.title });
      return begin(parts, looked, language);
    } catch {
      parts.go('trouble', 'none');
      return parts.problem(words.cut);
    }
  };
  parts.onPress(words.retry, () => void tryIt());
  await tryIt();
}

void start();
