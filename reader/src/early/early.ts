/** The asking page before the reading page has come: shown from ready-made HTML, its button and its field at work. */
import { LOOK_PATH, PASSCODE_PATH } from '@under-lock/contract/room-paths';
import { fromBase64Url, toBase64Url } from '@under-lock/core/bytes';
import { openQuestion } from '@under-lock/core/identity/answer';
import { firstSpoken, type Language } from '@under-lock/core/language';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { type Visit, visitFromAddress } from '../address';
import { type Early, type EarlyWords, ASKS, PLACE, type Place, type Stage } from './built';
import { chooseForGood, onLanguage, speakAs } from '../spoken';
import { type Begun, type EarlyPage, type Press } from './handover';
import { zone } from '../zone';

/** Of what the server tells, as JSON, what is shown here; the reading page judges it whole. */
interface Held {
  state: string;
  officeName: string;
  colour: string;
  senderName: string;
  senderAddress: string;
  closesAt: string;
  carried: boolean;
  identified: boolean;
  check: { kind: string; hint: string; question?: string };
}

const isPasscode = (kind: string): kind is 'text' | 'voice' | 'email' => ['text', 'voice', 'email'].includes(kind);

/** Undefined: the reading page sees to it. */
function stageOf({ state, carried, identified, check }: Held, sent: boolean): Stage | undefined {
  if (state !== 'held' || carried || identified) return undefined;
  if (check.kind === 'question') return 'question';
  if (!isPasscode(check.kind)) return undefined;
  const asked = check.question === undefined ? 'passcode' : 'both';
  return sent ? `${asked}-sent` : asked;
}

/** Text stays text: places are filled in what has been parsed. Some change while the page is shown. */
class Places {
  private readonly texts = new Map<Text, string>();

  constructor(
    within: Element,
    private readonly value: (name: Place) => string,
  ) {
    const walker = document.createTreeWalker(within, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT);
    while (walker.nextNode()) {
      const { currentNode: node } = walker;
      if (node instanceof Text) this.texts.set(node, node.data);
      else if (node instanceof Element) {
        const label = node.getAttribute('aria-label');
        if (label !== null) node.setAttribute('aria-label', this.filled(label));
      }
    }
    this.fill();
  }

  fill(): void {
    for (const [node, text] of this.texts) {
      const filled = this.filled(text);
      if (node.data !== filled) node.data = filled;
    }
  }

  /** What stands in a place may have a place in it. */
  private filled(text: string): string {
    return text.replace(PLACE, (_, name: Place) =>
      this.value(name).replace(PLACE, (__, inner: Place) => this.value(inner)),
    );
  }
}

export class AskingEarly implements EarlyPage {
  private readonly answers = new Map<string, Promise<Response>>();
  private readonly language: Language;
  private readonly words: EarlyWords;
  private held: Held | undefined;
  private question: string | undefined;
  private ended = false;
  private busy = false;
  private readonly begun: Begun = { asking: false, typed: '', answer: '' };
  private places: Places | undefined;
  /** A button's label from pressing down to letting go, and what was pressed when nothing was done here any more. */
  private down: string | undefined;
  private late: string | undefined;
  private counting: ReturnType<typeof setInterval> | undefined;

  constructor(
    private readonly root: HTMLElement,
    built: Early,
    languages: readonly string[],
    private readonly visit: Visit,
  ) {
    this.language = firstSpoken(languages);
    this.words = built[this.language];
  }

  /** For the page's address; undefined where it is the reading page's. */
  static here(root: HTMLElement, built: Early, languages: readonly string[]): AskingEarly | undefined {
    const visit = visitFromAddress();
    return visit?.share === undefined ? undefined : new AskingEarly(root, built, languages, visit);
  }

  answered(method: string, target: string): Promise<Response> | undefined {
    const asked = `${method} ${target}`;
    const answer = this.answers.get(asked);
    this.answers.delete(asked);
    return answer;
  }

  end(): Begun | undefined {
    if (this.ended) return undefined;
    this.ended = true;
    clearInterval(this.counting);
    return {
      ...this.begun,
      typed: this.field(this.words.labels.passcode)?.value ?? '',
      answer: this.field(this.words.labels.answer)?.value ?? '',
    };
  }

  unheard(): { label: string; isDown: boolean } | undefined {
    const label = this.late ?? this.down;
    return label === undefined ? undefined : { label, isDown: this.late === undefined };
  }

  /** Done as soon as what can be shown is shown. */
  async start(): Promise<void> {
    for (const over of ['pointerup', 'pointercancel'])
      document.addEventListener(over, () => (this.down = undefined), { capture: true });
    const response = await this.ask('GET', LOOK_PATH);
    if (response?.ok !== true || this.ended) return;
    this.held = (await response.json()) as Held;
    this.show();
  }

  private target(path: string): string {
    return window.location.origin + path.replace(':id', this.visit.id);
  }

  /** The answer is kept for the reading page; undefined when there is none. */
  private async ask(method: 'GET' | 'POST', path: string, body?: object): Promise<Response | undefined> {
    const target = this.target(path);
    const answer = fetch(target, {
      method,
      credentials: 'same-origin',
      ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    });
    const kept = answer.then((response) => response.clone());
    // Whoever takes it over hears of it.
    kept.catch(() => undefined);
    this.answers.set(`${method} ${target}`, kept);
    return answer.catch(() => undefined);
  }

  private show(): void {
    const { held } = this;
    const stage = held === undefined || this.ended ? undefined : stageOf(held, this.begun.resendAt !== undefined);
    if (held === undefined || stage === undefined) return;
    const parsed = new DOMParser().parseFromString(this.words.pages[stage], 'text/html').body;
    this.places = new Places(parsed, (name) => this.valueOf(held, name));
    this.root.replaceChildren(...parsed.childNodes);
    this.root.className = ASKS;
    const band = this.root.querySelector<HTMLElement>('[role="banner"]');
    if (band !== null) band.style.backgroundColor = held.colour;
    speakAs(this.language);
    onLanguage(this.root, chooseForGood);
    document.title = `${held.officeName} · ${this.words.title}`;
    this.connect(held);
    // As the reading page does.
    this.field(stage === 'question' ? this.words.labels.answer : this.words.labels.passcode)?.focus();
    if (stage !== 'passcode' && stage !== 'both' && held.check.question !== undefined)
      void this.showQuestion(held.check.question);
  }

  private valueOf({ check, closesAt, officeName, senderName, senderAddress }: Held, name: Place): string {
    const [until, now] = [new Date(closesAt), new Date()];
    switch (name) {
      case 'office':
        return officeName;
      case 'sender':
        return senderName;
      case 'address':
        return senderAddress;
      case 'date':
        return momentInWords(until, now, zone, this.language);
      case 'distance':
        return distanceInWords(until, now, zone, this.language);
      case 'hint':
        return check.hint;
      case 'asked':
      case 'sent':
      case 'send':
        return isPasscode(check.kind) ? this.words.ways[check.kind][name] : '';
      case 'wait':
        return String(this.secondsLeft());
      case 'question':
        return this.question ?? '…';
    }
  }

  private secondsLeft(): number {
    const until = this.begun.resendAt === undefined ? 0 : Date.parse(this.begun.resendAt);
    return Math.max(1, Math.ceil((until - Date.now()) / 1000));
  }

  private field(label: string): HTMLInputElement | undefined {
    return [...this.root.querySelectorAll('input')].find((one) => one.getAttribute('aria-label') === label);
  }

  private connect({ check }: Held): void {
    const { labels, ways } = this.words;
    const presses = new Map<string, () => void>([
      [labels.open, () => this.keepPress('open')],
      [labels.notMine, () => this.keepPress('not-mine')],
      [labels.otherWay, () => this.keepPress('other-way')],
    ]);
    if (isPasscode(check.kind)) presses.set(ways[check.kind].send, () => void this.sendPasscode());
    for (const button of this.root.querySelectorAll('[role="button"]')) {
      const label = button.getAttribute('aria-label') ?? '';
      const press = presses.get(label);
      if (press === undefined) continue;
      button.addEventListener('pointerdown', () => (this.down = label));
      button.addEventListener('click', () => {
        if (this.busy) return;
        if (this.ended) this.late = label;
        else press();
      });
    }
    for (const input of this.root.querySelectorAll('input'))
      input.addEventListener('keydown', ({ key }) => key === 'Enter' && !this.busy && this.keepPress('open'));
  }

  private waiting(label: string): void {
    this.busy = true;
    for (const button of this.root.querySelectorAll('[role="button"]'))
      if (button.getAttribute('aria-label') === label) {
        button.setAttribute('aria-disabled', 'true');
        button.setAttribute('aria-busy', 'true');
      }
  }

  private keepPress(press: Press): void {
    const { open, notMine, otherWay } = this.words.labels;
    this.begun.press = press;
    this.waiting({ open, 'not-mine': notMine, 'other-way': otherWay }[press]);
  }

  private async sendPasscode(): Promise<void> {
    const { kind } = this.held!.check;
    if (!isPasscode(kind)) return;
    this.waiting(this.words.ways[kind].send);
    this.begun.asking = true;
    const proof = toBase64Url(await shareProof(this.visit.share));
    if (this.ended) return;
    const response = await this.ask('POST', PASSCODE_PATH, { proof });
    // A refusal, and a line that is cut, are the reading page's to say.
    if (response?.ok !== true || this.ended) return;
    const { resendAt } = (await response.json()) as { resendAt: string };
    if (this.ended) return;
    // Asked for once more later, it is a new one.
    this.answers.delete(`POST ${this.target(PASSCODE_PATH)}`);
    this.begun.asking = false;
    this.begun.resendAt = resendAt;
    this.busy = false;
    this.show();
    this.counting = setInterval(() => this.places?.fill(), 1000);
  }

  private async showQuestion(sealed: string): Promise<void> {
    // One that this link does not open is the reading page's to say.
    this.question = await openQuestion(fromBase64Url(sealed), this.visit.share, this.visit.id).catch(() => undefined);
    this.places?.fill();
  }
}
