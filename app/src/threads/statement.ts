/** Sets a statement as a PDF, away from the page: the library for it is large and wanted seldom. */
import { type Bytes } from '@under-lock/core/bytes';
import { statementPdf, type StatementPdf } from '@under-lock/core/statement/pdf';
import { momentInWords } from '@under-lock/core/when';
import { expose } from 'comlink';

async function font(weight: 400 | 700): Promise<Uint8Array> {
  const response = await fetch(`/fonts/next-${weight}.ttf`);
  if (!response.ok) throw new Error('The font could not be loaded');
  return new Uint8Array(await response.arrayBuffer());
}

const door = {
  async pdf(statement: Pick<StatementPdf, 'file' | 'subject' | 'paper'>, zone: string): Promise<Bytes> {
    const [regular, bold] = await Promise.all([font(400), font(700)]);
    // The year always: a paper is read years later.
    return statementPdf({
      ...statement,
      fonts: { regular, bold },
      say: (instant) => `${momentInWords(new Date(instant), new Date(0), zone)} (${zone.replace('_', ' ')})`,
    });
  },
};
export type StatementDoor = typeof door;

expose(door);
