/** What was typed into a slot's form: judged, said where something is wrong, and made into a letter. */
import { checkAddress, cleanName } from '@under-lock/core/people/address';
import { makeAnswerCode } from '@under-lock/core/slot/answer-code';
import { SLOT_FILES } from '@under-lock/core/slot/limits';
import { sizeInWords } from '@under-lock/core/when';
import { filled } from './built';
import { type Parts } from './parts';
import { type Letter } from '../threads/slot';

const SHORTEST_OWN = 8;
const DIGITS_OF_PHONE = /^\+\d{8,15}$/;
/** Of what is left, as its mail names the slot: no mail ever goes there. */
const SLOT_ADDRESS = 'mail-slot@slot.invalid';

export class Form {
  private files: File[] = [];
  private code = makeAnswerCode();

  constructor(
    private readonly parts: Parts,
    private readonly slot: { name: string; maxBytes: number },
    private readonly language: string,
  ) {
    this.showFiles();
  }

  get isEmpty(): boolean {
    const { words } = this.parts;
    return this.files.length === 0 && [words.text, words.subject].every((one) => this.typed(one) === '');
  }

  /** After something was left: name and address stay for the next. */
  clear(): void {
    const { words } = this.parts;
    for (const label of [words.subject, words.text, words.own]) this.parts.field(label).value = '';
    this.files = [];
    this.code = makeAnswerCode();
    this.showFiles();
  }

  addFiles(added: Iterable<File>): void {
    this.files = [...this.files, ...added];
    this.showFiles();
  }

  /** Undefined when something is wrong, which is said where it is. */
  letter(): Letter | undefined {
    const { words } = this.parts;
    const address = checkAddress(this.typed(words.address));
    const name = cleanName(this.typed(words.name));
    const phone = this.typed(words.phone).replace(/[\s()./-]/g, '');
    const own = this.typed(words.own);
    const wrong: [string, string][] = [
      ...(address.ok ? [] : [[words.address, words.noAddress] as [string, string]]),
      ...(name !== '' ? [] : [[words.name, words.noName] as [string, string]]),
      ...(this.typed(words.text) !== '' || this.files.length > 0
        ? []
        : [[words.text, words.nothing] as [string, string]]),
      ...(phone === '' || DIGITS_OF_PHONE.test(phone) ? [] : [[words.phone, words.badPhone] as [string, string]]),
      ...(own === '' || own.length >= SHORTEST_OWN ? [] : [[words.own, words.shortOwn] as [string, string]]),
    ];
    // The first of them has the cursor in the end.
    for (const [label, text] of wrong.reverse()) this.parts.setError(label, text);
    if (wrong.length > 0 || !address.ok) return undefined;
    if (this.tooMuch() !== undefined) {
      this.parts.button(words.addFiles).focus();
      return undefined;
    }
    return {
      from: { name, address: address.address },
      to: { name: this.slot.name, address: SLOT_ADDRESS },
      subject: cleanName(this.typed(words.subject)),
      text: this.typed(words.text),
      files: this.files,
      language: this.language,
      answer: { code: own === '' ? this.code : own, language: this.language, ...(phone === '' ? {} : { phone }) },
    };
  }

  /** Whether the answer asks for a code, which is shown, or for what its writer set. */
  hasOwnPassword(letter: Letter): boolean {
    return letter.answer.code !== this.code;
  }

  private typed(label: string): string {
    return this.parts.field(label).value.trim();
  }

  private tooMuch(): string | undefined {
    const { words } = this.parts;
    const { maxBytes } = this.slot;
    if (this.files.length > SLOT_FILES) return filled(words.tooMany, { count: String(SLOT_FILES) });
    if (this.size() > maxBytes) return filled(words.tooLarge, { limit: sizeInWords(maxBytes) });
    return undefined;
  }

  private size(): number {
    return this.files.reduce((sum, { size }) => sum + size, 0);
  }

  private showFiles(): void {
    const { parts } = this;
    parts.at('files').replaceChildren(
      ...this.files.map((file) =>
        parts.fileLine(file.name, sizeInWords(file.size), () => {
          this.files = this.files.filter((one) => one !== file);
          this.showFiles();
          parts.button(parts.words.addFiles).focus();
        }),
      ),
    );
    const used = { used: sizeInWords(this.size()), limit: sizeInWords(this.slot.maxBytes) };
    const wrong = this.tooMuch();
    const said = parts.at('used');
    const sum = this.files.length === 0 ? parts.words.upTo : parts.words.used;
    said.textContent = wrong === undefined ? filled(sum, used) : `■ ${wrong}`;
    said.toggleAttribute('data-wrong', wrong !== undefined);
  }
}
