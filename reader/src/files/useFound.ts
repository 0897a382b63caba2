/** What is found in a PDF while its pages are read one after the other. */
import { type PDFPageProxy } from 'pdfjs-dist';
import { useEffect, useState } from 'react';
import { type Box, foundOn, type PageText, pageText, type TextItem } from './page-text';
import { type OpenedPdf } from './pdf';

export const MOST_FOUND = 500;

export interface Found {
  /** From 1. */
  page: number;
  boxes: Box[];
}

export interface Finding {
  found: Found[];
  isReading: boolean;
}
const NOTHING: Finding = { found: [], isReading: false };

async function textOf(page: PDFPageProxy): Promise<PageText> {
  const { items } = await page.getTextContent();
  const { width, height, transform } = page.getViewport({ scale: 1 });
  return pageText(
    items.filter((item): item is typeof item & TextItem => 'str' in item),
    { width, height, transform },
  );
}

/** What is looked for in a file, which of it is looked at, and who is told what was found. */
export interface FileFind {
  phrase: string;
  current: number;
  onFinding: (finding: Finding) => void;
}

export type TextAt = (page: number) => Promise<PageText | undefined>;

/** Each page's words, read once. */
export function textsOf(pdf: OpenedPdf): TextAt {
  const read = new Map<number, Promise<PageText | undefined>>();
  return (number) => {
    const known = read.get(number);
    if (known !== undefined) return known;
    // A page whose words can't be read has none.
    const reading = pdf.watched(pdf.document.getPage(number).then(textOf)).catch(() => undefined);
    read.set(number, reading);
    return reading;
  };
}

/** `textAt` undefined: nothing may be found, or nothing is open yet. */
export function useFound(pageCount: number, textAt: TextAt | undefined, phrase: string): Finding {
  const [finding, setFinding] = useState(NOTHING);
  useEffect(() => {
    setFinding(NOTHING);
    if (textAt === undefined || phrase.trim() === '') return undefined;
    let live = true;
    const find = async (): Promise<void> => {
      const found: Found[] = [];
      for (let page = 1; page <= pageCount && live && found.length < MOST_FOUND; page++) {
        const text = await textAt(page);
        if (text !== undefined)
          for (const boxes of foundOn(text, phrase, MOST_FOUND - found.length)) found.push({ page, boxes });
        if (live) setFinding({ found: [...found], isReading: page < pageCount });
      }
      if (live) setFinding({ found, isReading: false });
    };
    void find();
    return () => {
      live = false;
    };
  }, [pageCount, textAt, phrase]);
  return finding;
}
