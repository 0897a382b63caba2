/** What other programs read off paper. */
import { execFileSync } from 'node:child_process';

export const paperText = (pdf: Buffer): string =>
  execFileSync('pdftotext', ['-layout', '-', '-'], { input: pdf, encoding: 'utf8' });
export const paperPages = (pdf: Buffer): number =>
  Number(/Pages:\s+(\d+)/.exec(execFileSync('pdfinfo', ['-'], { input: pdf, encoding: 'utf8' }))![1]);
