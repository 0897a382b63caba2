/**
 * How much of what stands in a labelled corpus the scan sees, and how much it sees that is not there. The first half may
 * be looked at while detectors are changed; the second was written before and first looked at after that (docs/scan.md has
 * its figures).
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Kind } from '../../src/scan/finding';
import { scanText } from '../../src/scan/text';

interface Labelled {
  text: string;
  labels: { kind: Kind; from: number; to: number }[];
}

/** `⟦kind|what stands there⟧` in a snippet; snippets are parted by lines of four hyphens. */
function read(file: string): Labelled[] {
  return readFileSync(join(__dirname, 'corpus', file), 'utf8')
    .trimEnd()
    .split('\n----\n')
    .map((marked) => {
      const labels: Labelled['labels'] = [];
      let text = '';
      let last = 0;
      for (const match of marked.matchAll(/⟦(\w+)\|([^⟧]+)⟧/g)) {
        text += marked.slice(last, match.index);
        labels.push({ kind: match[1] as Kind, from: text.length, to: text.length + match[2]!.length });
        text += match[2]!;
        last = match.index + match[0].length;
      }
      return { text: text + marked.slice(last), labels };
    });
}

interface Figures {
  labelled: number;
  seen: number;
  wrong: number;
}

/** A label is seen where a finding of its kind meets it; a finding that meets no label of its kind is wrong. */
function measure(snippets: readonly Labelled[]): { by: Record<string, Figures>; missed: string[]; wrong: string[] } {
  const by: Record<string, Figures> = {};
  const of = (kind: string): Figures => (by[kind] ??= { labelled: 0, seen: 0, wrong: 0 });
  const [missed, wrong]: [string[], string[]] = [[], []];
  for (const { text, labels } of snippets) {
    const findings = scanText(text, { thisYear: 2026 });
    const meets = (one: { from: number; to: number; kind: Kind }, other: typeof one): boolean =>
      one.kind === other.kind && one.from < other.to && other.from < one.to;
    for (const label of labels) {
      of(label.kind).labelled += 1;
      if (findings.some((finding) => meets(label, finding))) of(label.kind).seen += 1;
      else missed.push(`${label.kind}: ${text.slice(label.from, label.to)} in ${text.slice(0, 60)}`);
    }
    for (const finding of findings)
      if (!labels.some((label) => meets(label, finding))) {
        of(finding.kind).wrong += 1;
        wrong.push(`${finding.of}: ${text.slice(finding.from, finding.to)} in ${text.slice(0, 60)}`);
      }
  }
  return { by, missed, wrong };
}

const CHECKED: readonly string[] = ['card', 'account', 'national', 'health', 'credential'];

/** Of numbers with a check digit and credentials: the shares seen, and of what was said the share that was there. */
function shares(file: string) {
  const snippets = read(file);
  const { by, missed, wrong } = measure(snippets);
  const sum = (part: keyof Figures): number => CHECKED.reduce((total, kind) => total + (by[kind]?.[part] ?? 0), 0);
  const recall = sum('seen') / sum('labelled');
  const precision = sum('seen') / (sum('seen') + sum('wrong'));
  return { snippets: snippets.length, recall, precision, missed, wrong };
}

test.each([
  ['first.txt', 0.95, 0.97],
  ['second.txt', 0.85, 0.95],
])(
  'numbers with a check digit and credentials of %s are seen, and little else',
  (file, leastRecall, leastPrecision) => {
    const { snippets, recall, precision, missed, wrong } = shares(file);
    expect(snippets).toBeGreaterThan(300);
    expect({ missed: recall >= leastRecall ? [] : missed, wrong: precision >= leastPrecision ? [] : wrong }).toEqual({
      missed: [],
      wrong: [],
    });
  },
);
