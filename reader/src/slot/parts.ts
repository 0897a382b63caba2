/** The slot's page as its script sees it: stages shown in turn, fields by their labels, what is wrong beside them. */
import { filled, type Part, type Stage, STAGES } from './built';
import { type SlotWords } from '../words/slot/en';

/** What is wrong with a field belongs to it for screen readers, too. */
const errorId = (field: HTMLElement): string => `${field.dataset.field ?? 'field'}-error`;

export class Parts {
  private readonly file: Element;
  private readonly error: Element;

  constructor(
    private readonly root: HTMLElement,
    readonly words: SlotWords,
    html: string,
  ) {
    root.replaceChildren(...new DOMParser().parseFromString(html, 'text/html').body.childNodes);
    [this.file, this.error] = [this.at('file'), this.at('error')];
    for (const one of [this.file, this.error]) one.remove();
    for (const part of ['problem', 'more', 'copied', 'code-row', 'own-text', 'code-text'] as const)
      this.show(part, false);
    for (const [index, one] of root.querySelectorAll<HTMLElement>('input, textarea').entries()) {
      one.dataset.field = `field-${index}`;
      one.addEventListener('input', () => this.clearError(one));
    }
    this.tieHints();
  }

  at(part: Part): HTMLElement {
    const found = this.root.querySelector<HTMLElement>(`[data-at="${part}"]`);
    if (found === null) throw new Error(`The page has no ${part}`);
    return found;
  }

  show(part: Part, is: boolean): void {
    this.at(part).hidden = !is;
  }

  get stage(): Stage | undefined {
    return STAGES.find((one) => !this.at(one).hidden);
  }

  /** One of them, and where to go on with it. */
  go(stage: Stage, focus: 'heading' | 'field' | 'none' = 'heading'): void {
    for (const one of STAGES) this.show(one, one === stage);
    this.problem(undefined);
    const here = this.at(stage);
    if (focus === 'field') here.querySelector<HTMLElement>('input, textarea')?.focus();
    const heading = focus === 'heading' ? here.querySelector<HTMLElement>('[role="heading"], h2') : null;
    if (heading === null) return;
    heading.tabIndex = -1;
    heading.focus();
  }

  field(label: string): HTMLInputElement | HTMLTextAreaElement {
    const found = [...this.root.querySelectorAll<HTMLInputElement | HTMLTextAreaElement>('input, textarea')].find(
      (one) => one.getAttribute('aria-label') === label,
    );
    if (found === undefined) throw new Error(`The page has no field “${label}”`);
    return found;
  }

  button(label: string): HTMLElement {
    const found = [...this.root.querySelectorAll<HTMLElement>('[role="button"]')].find(
      (one) => one.getAttribute('aria-label') === label,
    );
    if (found === undefined) throw new Error(`The page has no button “${label}”`);
    return found;
  }

  onPress(label: string, press: () => void): void {
    const button = this.button(label);
    const unlessOff = (): void => (button.getAttribute('aria-disabled') === 'true' ? undefined : press());
    button.addEventListener('click', unlessOff);
    // What is no button of the browser’s own is pressed by these keys, too.
    if (button instanceof HTMLButtonElement) return;
    button.addEventListener('keydown', (event) => {
      if (event.key !== 'Enter' && event.key !== ' ') return;
      event.preventDefault();
      unlessOff();
    });
  }

  busy(label: string, is: boolean): void {
    const button = this.button(label);
    button.setAttribute('aria-disabled', String(is));
    button.setAttribute('aria-busy', String(is));
  }

  fill(part: Part, text: string, values: Record<string, string> = {}): void {
    this.at(part).textContent = filled(text, values);
  }

  /** Above everything, and said at once. */
  problem(text: string | undefined): void {
    const place = this.at('problem');
    place.hidden = text === undefined;
    const words = [...place.querySelectorAll('*')].filter(({ childElementCount }) => childElementCount === 0).at(-1);
    if (words !== undefined && text !== undefined) words.textContent = text;
  }

  setError(label: string, text: string): void {
    const field = this.field(label);
    this.clearError(field);
    const said = this.error.cloneNode(true) as HTMLElement;
    said.textContent = `■ ${text}`;
    said.id = errorId(field);
    field.parentElement!.append(said);
    field.setAttribute('aria-invalid', 'true');
    field.setAttribute('aria-describedby', [field.dataset.hint, said.id].filter(Boolean).join(' '));
    field.focus();
  }

  clearError(field: HTMLElement): void {
    document.getElementById(errorId(field))?.remove();
    field.setAttribute('aria-invalid', 'false');
    if (field.dataset.hint === undefined) field.removeAttribute('aria-describedby');
    else field.setAttribute('aria-describedby', field.dataset.hint);
  }

  /** A hint that is not wanted here goes. */
  dropHint(label: string): void {
    const field = this.field(label);
    document.getElementById(field.dataset.hint ?? '')?.remove();
    delete field.dataset.hint;
    field.removeAttribute('aria-describedby');
  }

  fileLine(name: string, size: string, remove: () => void): HTMLElement {
    const line = this.file.cloneNode(true) as HTMLElement;
    const walker = document.createTreeWalker(line, NodeFilter.SHOW_TEXT);
    while (walker.nextNode()) {
      const text = walker.currentNode as Text;
      text.data = filled(text.data, { file: name, size });
    }
    const button = line.querySelector<HTMLElement>('[role="button"]')!;
    button.setAttribute('aria-label', filled(this.words.removeFile, { file: name }));
    button.addEventListener('click', remove);
    return line;
  }

  /** As the components tie them; kept for when an error comes and goes. */
  private tieHints(): void {
    for (const one of this.root.querySelectorAll<HTMLElement>('[aria-describedby]'))
      one.dataset.hint = one.getAttribute('aria-describedby')!;
  }
}
