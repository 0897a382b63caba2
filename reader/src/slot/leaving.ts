/** From the form to the receipt: digits, sealing, bringing it there, and what may go wrong with each. */
import { readPasscode } from '@under-lock/core/identity/passcode';
import { sizeInWords, timeInWords } from '@under-lock/core/when';
import { type Remote } from 'comlink';
import { filled } from './built';
import { type Form } from './form';
import { type Parts } from './parts';
import { type Letter, type Outcome, type SlotDoor } from '../threads/slot';
import { zone } from '../zone';

export interface Slot {
  token: string;
  name: string;
  proves: boolean;
  maxBytes: number;
}
type Failed = Extract<Outcome<object>, { ok: false }>;
type Progress = (done: number, of: number) => void;

export class Leaving {
  private letter: Letter | undefined;
  private attempt: { address: string; attempt: string } | undefined;

  constructor(
    private readonly parts: Parts,
    private readonly form: Form,
    private readonly slot: Slot,
    private readonly language: string,
    private readonly door: () => Promise<Remote<SlotDoor>>,
    /** For what passes to the thread by reference. */
    private readonly byReference: (progress: Progress) => Progress,
  ) {}

  async press(): Promise<void> {
    const { parts, slot } = this;
    const { words } = parts;
    parts.problem(undefined);
    const letter = this.form.letter();
    if (letter === undefined) return;
    this.letter = letter;
    parts.busy(words.leave, true);
    try {
      const door = await this.door();
      if (!slot.proves || (await door.isBegun(letter))) await this.leave(undefined);
      // The digits that were sent serve for what was changed since, too.
      else if (this.attempt?.address === letter.from.address) this.askDigits();
      else await this.sendCode();
    } catch {
      this.back(words.cut);
    } finally {
      parts.busy(words.leave, false);
    }
  }

  async sendAgain(): Promise<void> {
    this.parts.problem(undefined);
    await this.sendCode().catch(() => this.parts.problem(this.parts.words.cut));
  }

  async confirm(): Promise<void> {
    const { parts, attempt } = this;
    const { words } = parts;
    const digits = readPasscode(parts.field(words.digits).value);
    if (digits === undefined) return parts.setError(words.digits, words.notDigits);
    if (attempt === undefined) return this.parts.go('form');
    return this.leave({ attempt: attempt.attempt, digits }).catch(() => this.back(words.cut));
  }

  async stop(): Promise<void> {
    await (await this.door()).stop();
  }

  private async sendCode(): Promise<void> {
    const { address } = this.letter!.from;
    const sent = await (await this.door()).sendCode(this.slot.token, address, this.language);
    if (!sent.ok) return this.fail(sent);
    this.attempt = { address, attempt: sent.attempt };
    this.parts.field(this.parts.words.digits).value = '';
    return this.askDigits();
  }

  private askDigits(): void {
    this.parts.fill('sent', this.parts.words.codeSent, { address: this.letter!.from.address });
    this.parts.go('code', 'field');
  }

  private async leave(code: { attempt: string; digits: string } | undefined): Promise<void> {
    const { parts, slot, letter } = this;
    parts.fill('progress', parts.words.sealing);
    this.showDone(0);
    parts.go('busy');
    const progress = this.byReference((done, of) => {
      this.showDone(done / of);
      parts.fill('progress', parts.words.bringing, { done: sizeInWords(done), size: sizeInWords(of) });
    });
    const left = await (await this.door()).leave(slot.token, letter!, code, progress);
    if (left.ok) this.receipt(left.number);
    else this.fail(left);
  }

  private showDone(share: number): void {
    const bar = this.parts.at('bar');
    const percent = Math.round(share * 100);
    bar.setAttribute('aria-valuenow', String(percent));
    (bar.firstElementChild as HTMLElement).style.width = `${percent}%`;
  }

  private receipt(number: string): void {
    const { parts, slot, letter } = this;
    const { words } = parts;
    parts.fill('finished', words.doneText, { slot: slot.name, address: letter!.from.address });
    parts.fill('number', number);
    parts.fill('answer-code', letter!.answer.code);
    const own = this.form.hasOwnPassword(letter!);
    for (const part of ['code-row', 'code-text'] as const) parts.show(part, !own);
    parts.show('own-text', own);
    parts.show('copied', false);
    this.form.clear();
    this.letter = undefined;
    this.attempt = undefined;
    parts.go('done');
  }

  private back(problem: string): void {
    this.parts.go('form', 'none');
    this.parts.problem(problem);
    this.parts.button(this.parts.words.leave).focus();
  }

  private fail(failed: Failed): void {
    const { parts } = this;
    const { words } = parts;
    switch (failed.code) {
      case 'stopped':
        parts.go('form', 'none');
        return parts.button(words.leave).focus();
      case 'wrong-code':
        parts.go('code', 'field');
        return parts.setError(words.digits, filled(words.wrongDigits, { left: String(failed.triesLeft ?? 0) }));
      case 'passcode-expired':
      case 'not-identified':
        // Also when what had arrived was forgotten meanwhile.
        parts.go('code', 'field');
        return parts.setError(words.digits, words.usedDigits);
      case 'not-found':
        return parts.go('closed');
      default:
        // Who waits for other digits still has the ones before.
        return parts.stage === 'code' ? parts.problem(this.sentence(failed)) : this.back(this.sentence(failed));
    }
  }

  private sentence(failed: Failed): string {
    const { words } = this.parts;
    switch (failed.code) {
      case 'unreadable-file':
        return filled(words.unreadable, { file: failed.file });
      case 'passcode-too-soon':
      case 'passcode-paused':
      case 'passcode-stopped':
        return words.tooSoon;
      case 'too-many-tries':
        return filled(words.tooMuch, {
          until: timeInWords(new Date(failed.until ?? Date.now() + 60_000), zone, this.language),
        });
      case 'storage-full':
        return words.full;
      case 'not-allowed':
        return words.blocked;
      case 'busy':
        return words.busy;
      case 'unreachable':
        return words.cut;
      default:
        return words.failed;
    }
  }
}
