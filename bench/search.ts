/**
 * Ten thousand messages of three hundred words searched in a Chromium worker, key press by key press, against counting
 * the letters of all their text once.
 */
import { inWorker } from './in-worker';
import { type Row } from './row';

interface Measured {
  build: number;
  slowest: number;
  median: number;
  plain: number;
}

const WORKER = `
import { makeIndex } from '@under-lock/core/search/scan';
let state = 7;
const below = (most) => (state = (state * 1103515245 + 12345) & 0x7fffffff) % most;
const word = () => Array.from({ length: 3 + below(7) }, () => String.fromCharCode(97 + below(26))).join('');
const vocabulary = Array.from({ length: 20000 }, word);
// Few words often and many seldom, as people write.
const words = (count) => Array.from({ length: count }, () => vocabulary[below(below(20000) + 1)]).join(' ');
onmessage = ({ data: { messages } }) => {
  const records = Array.from({ length: messages }, (_, at) => ({
    id: String(at), kind: 'sent', at, subject: words(6), people: [{ name: words(2), address: 'a@b.example' }],
    reference: 'AR-26-' + at, files: [word() + '.pdf'], text: words(300), worded: true,
  }));
  const times = [];
  const timed = (act) => { const from = performance.now(); act(); return performance.now() - from; };
  let index;
  const build = timed(() => { index = makeIndex(records); });
  for (let turn = 0; turn < 20; turn++) {
    const query = vocabulary[below(20000)] + ' ' + vocabulary[below(20000)].slice(0, 2);
    for (let length = 1; length <= query.length; length++)
      times.push(timed(() => index.find({ query: query.slice(0, length) }, { offset: 0, limit: 30 })));
  }
  const plain = timed(() => { let sum = 0; for (const { text } of records) for (let at = 0; at < text.length; at++) sum += text.charCodeAt(at); if (sum === 0) throw new Error(); });
  times.sort((a, b) => a - b);
  postMessage({ build, slowest: times.at(-1), median: times[times.length >> 1], plain });
};
`;

const ms = (value: number): string => `${value.toFixed(0)} ms`;

export async function search(): Promise<Row[]> {
  const { build, slowest, median, plain } = await inWorker<Measured>(WORKER, { messages: 10_000 });
  return [
    { what: 'Searching 10,000 messages: the slowest key press', value: ms(slowest), aim: '≤ 100 ms' },
    { what: '… the median, to counting all letters once', value: `${(median / plain).toFixed(2)} ×`, aim: '≤ 2 ×' },
    { what: 'Folding 10,000 messages for it', value: ms(build), aim: 'once, in a thread' },
  ];
}
