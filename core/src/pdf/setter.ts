/**
 * Sets text on paper: lines one under the other, on as many pages as it takes, with what a font lacks shown as missing.
 */
import { type PDF, type PDFPage, rgb } from '@libpdf/core';

export interface PaperFonts {
  regular: Uint8Array;
  bold: Uint8Array;
}
export type Paper = 'a4' | 'letter';
export interface Styled {
  text: string;
  bold: boolean;
}
interface Look {
  bold?: boolean;
  soft?: boolean;
  size?: number;
  /** Points from the left margin. */ indent?: number;
  /** Drawn in front of the first line. */ marker?: string;
}

const MARGIN = 56;
const SIZE = 10.5;
const LEADING = 15;
const INK = rgb(0.106, 0.141, 0.129);
const SOFT = rgb(0.325, 0.376, 0.353);

interface Word {
  text: string;
  bold: boolean;
  /** A blank stands before it. */ apart: boolean;
}

/** Words with their weight; a line break is a word of its own. */
function wordsOf(runs: readonly Styled[]): Word[] {
  const words: Word[] = [];
  let apart = false;
  for (const { text, bold } of runs) {
    for (const piece of text.split(/( +|\n)/)) {
      if (piece === '\n') words.push({ text: '\n', bold, apart: false });
      else if (/^ +$/.test(piece)) apart = true;
      else if (piece !== '') words.push({ text: piece, bold, apart });
      if (!/^ *$/.test(piece)) apart = false;
    }
  }
  return words;
}

export class Setter {
  private page: PDFPage;
  private y: number;
  private readonly pages: PDFPage[] = [];
  private readonly fonts: { regular: ReturnType<PDF['embedFont']>; bold: ReturnType<PDF['embedFont']> };
  private lacking = false;

  constructor(
    private readonly pdf: PDF,
    fonts: PaperFonts,
    private readonly paper: Paper,
  ) {
    this.fonts = { regular: pdf.embedFont(fonts.regular), bold: pdf.embedFont(fonts.bold) };
    this.page = this.open();
    this.y = this.page.height - MARGIN;
  }

  /** Some letter could not be drawn. */
  get lacksLetters(): boolean {
    return this.lacking;
  }

  /** Whether both weights have every letter. */
  draws(text: string): boolean {
    return [true, false].every((bold) => this.fontOf(bold).getUnencodableCharacters(text).length === 0);
  }

  private open(): PDFPage {
    const page = this.pdf.addPage({ size: this.paper });
    this.pages.push(page);
    return page;
  }

  private fontOf(bold: boolean): ReturnType<PDF['embedFont']> {
    return bold ? this.fonts.bold : this.fonts.regular;
  }

  /** A letter the font lacks is shown as missing rather than left out in silence. */
  private drawable(text: string, bold: boolean): string {
    const missing = new Set(this.fontOf(bold).getUnencodableCharacters(text));
    if (missing.size > 0) this.lacking = true;
    return [...text].map((letter) => (missing.has(letter) ? '?' : letter)).join('');
  }

  /** Words too long for a line are broken where they must be. */
  private broken(word: Word, size: number, width: number): Word[] {
    const fits = (text: string): boolean => this.fontOf(word.bold).widthOfTextAtSize(text, size) <= width;
    if (fits(word.text)) return [word];
    const pieces: Word[] = [];
    let piece = '';
    for (const letter of word.text) {
      if (piece !== '' && !fits(piece + letter)) {
        pieces.push({ ...word, text: piece, apart: word.apart && pieces.length === 0 });
        piece = '';
      }
      piece += letter;
    }
    return [...pieces, { ...word, text: piece, apart: false }];
  }

  private lines(words: readonly Word[], size: number, width: number): Word[][] {
    const widthOf = ({ text, bold, apart }: Word, first: boolean): number =>
      this.fontOf(bold).widthOfTextAtSize(apart && !first ? ` ${text}` : text, size);
    const lines: Word[][] = [[]];
    let used = 0;
    for (const word of words.flatMap((one) => (one.text === '\n' ? [one] : this.broken(one, size, width)))) {
      const line = lines.at(-1)!;
      const next = word.text === '\n' ? Infinity : used + widthOf(word, line.length === 0);
      if (next > width && (line.length > 0 || word.text === '\n')) {
        lines.push(word.text === '\n' ? [] : [word]);
        used = word.text === '\n' ? 0 : widthOf(word, true);
      } else {
        line.push(word);
        used = next;
      }
    }
    return lines;
  }

  text(text: string, look: Look = {}): void {
    this.runs([{ text, bold: look.bold ?? false }], look);
  }

  /** One paragraph of several weights. */
  runs(runs: readonly Styled[], { soft = false, size = SIZE, indent = 0, marker }: Look = {}): void {
    const words = wordsOf(runs).map((word) =>
      word.text === '\n' ? word : { ...word, text: this.drawable(word.text, word.bold) },
    );
    const leading = (LEADING * size) / SIZE;
    for (const [index, line] of this.lines(words, size, this.page.width - 2 * MARGIN - indent).entries()) {
      if (this.y - leading < MARGIN + LEADING) {
        this.page = this.open();
        this.y = this.page.height - MARGIN;
      }
      this.y -= leading;
      const color = soft ? SOFT : INK;
      if (index === 0 && marker !== undefined)
        this.page.drawText(this.drawable(marker, false), {
          x: MARGIN + indent - 16,
          y: this.y,
          size,
          font: this.fonts.regular,
          color,
        });
      this.drawLine(line, MARGIN + indent, size, color);
    }
  }

  /** Neighbours of one weight are drawn at once, so that a reader finds whole words. */
  private drawLine(line: readonly Word[], from: number, size: number, color: ReturnType<typeof rgb>): void {
    let x = from;
    let piece = '';
    let bold = line[0]?.bold ?? false;
    const draw = (): void => {
      if (piece === '') return;
      const font = this.fontOf(bold);
      this.page.drawText(piece, { x, y: this.y, size, font, color });
      x += font.widthOfTextAtSize(piece, size);
      piece = '';
    };
    for (const [index, word] of line.entries()) {
      if (word.bold !== bold) {
        draw();
        bold = word.bold;
      }
      piece += word.apart && index > 0 ? ` ${word.text}` : word.text;
    }
    draw();
  }

  gap(lines = 1): void {
    this.y -= lines * LEADING;
  }

  /** A foot on every page. */
  number(foot: (page: number, of: number) => string): void {
    this.pages.forEach((page, index) =>
      page.drawText(this.drawable(foot(index + 1, this.pages.length), false), {
        x: MARGIN,
        y: MARGIN / 2,
        size: 8,
        font: this.fonts.regular,
        color: SOFT,
      }),
    );
  }
}
