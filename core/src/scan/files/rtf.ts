/** Words of a document in RTF (version 1.9.1): control words are passed over, so are groups that hold no words. */

/** Groups that hold fonts, colours, styles and pictures. */
const SKIPPED = new Set([
  'fonttbl',
  'colortbl',
  'stylesheet',
  'listtable',
  'listoverridetable',
  'rsidtbl',
  'generator',
  'pict',
  'objdata',
  'themedata',
  'colorschememapping',
  'datastore',
  'latentstyles',
  'xmlnstbl',
  'filetbl',
  'fldinst',
]);
const BREAKS: Record<string, string> = {
  par: '\n',
  line: '\n',
  row: '\n',
  cell: '\t',
  tab: '\t',
  sect: '\n',
  page: '\n',
};
const SIGNS: Record<string, string> = {
  emdash: '—',
  endash: '–',
  lquote: '‘',
  rquote: '’',
  ldblquote: '“',
  rdblquote: '”',
  bullet: '•',
};
const DEEPEST = 500;

const TOKEN = /\\([a-z]{1,32})(-?\d{1,10})? ?|\\'([0-9a-f]{2})|\\([^a-z])|([{}])|([^\\{}]{1,4096})/giy;

export const looksLikeRtf = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x7b && bytes[1] === 0x5c && bytes[2] === 0x72 && bytes[3] === 0x74 && bytes[4] === 0x66;

class Words {
  private readonly out: string[] = [];
  private readonly octets: number[] = [];
  private readonly groups: { skip: boolean; fallback: number }[] = [{ skip: false, fallback: 1 }];
  private decoder = new TextDecoder('windows-1252');
  /** Signs to be passed over after one that was said by its number. */
  private passed = 0;

  private get group(): { skip: boolean; fallback: number } {
    return this.groups[this.groups.length - 1]!;
  }

  private flush(): void {
    if (this.octets.length > 0) this.out.push(this.decoder.decode(new Uint8Array(this.octets), { stream: true }));
    this.octets.length = 0;
  }

  private put(text: string): void {
    if (this.group.skip) return;
    this.flush();
    this.out.push(text);
  }

  /** @throws RangeError */
  brace(brace: string): void {
    if (brace === '}') {
      if (this.groups.length > 1) this.groups.pop();
    } else if (this.groups.length > DEEPEST) throw new RangeError('Groups lie too deep');
    else this.groups.push({ ...this.group });
  }

  word(name: string, number: number | undefined): void {
    if (SKIPPED.has(name)) this.group.skip = true;
    else if (name === 'ansicpg') this.decoder = decoderOf(number ?? 1252);
    else if (name === 'uc') this.group.fallback = Math.min(number ?? 1, 9);
    else if (name === 'u') {
      this.put(String.fromCharCode(((number ?? 0) + 65_536) % 65_536));
      this.passed = this.group.fallback;
    } else this.put(BREAKS[name] ?? SIGNS[name] ?? '');
  }

  octet(octet: string): void {
    if (this.passed > 0) this.passed -= 1;
    else if (!this.group.skip) this.octets.push(Number.parseInt(octet, 16));
  }

  sign(sign: string): void {
    if (sign === '*') this.group.skip = true;
    else
      this.put(
        sign === '~' ? '\u00a0' : sign === '_' ? '-' : /[\r\n]/.test(sign) ? '\n' : '\\{}'.includes(sign) ? sign : '',
      );
  }

  plain(plain: string): void {
    const text = plain.replace(/[\r\n]+/g, '');
    this.put(text.slice(this.passed));
    this.passed = Math.max(0, this.passed - text.length);
  }

  all(): string {
    this.flush();
    return this.out.join('');
  }
}

/** @throws RangeError when its groups lie deeper than any program writes them. */
export function wordsOfRtf(bytes: Uint8Array): string {
  const source = new TextDecoder('latin1').decode(bytes);
  const words = new Words();
  const token = new RegExp(TOKEN);
  for (let match = token.exec(source); match !== null; match = token.exec(source)) {
    const [, word, number, octet, sign, brace, plain] = match;
    if (brace !== undefined) words.brace(brace);
    else if (word?.toLowerCase() === 'bin') token.lastIndex += Math.max(0, Number(number ?? 0));
    else if (word !== undefined) words.word(word.toLowerCase(), number === undefined ? undefined : Number(number));
    else if (octet !== undefined) words.octet(octet);
    else if (sign !== undefined) words.sign(sign);
    else words.plain(plain!);
  }
  return words.all();
}

function decoderOf(page: number): TextDecoder {
  try {
    return new TextDecoder(
      page === 65_001
        ? 'utf-8'
        : page === 932
          ? 'shift_jis'
          : page === 936
            ? 'gbk'
            : page === 949
              ? 'euc-kr'
              : page === 950
                ? 'big5'
                : `windows-${page}`,
    );
  } catch {
    return new TextDecoder('windows-1252');
  }
}
