import { blocksOf, blocksOfHtml } from '../../src/message/blocks';
import { messagePage } from '../../src/locks/file/message-page';
import { type MessageContent } from '../../src/message/content';

const plainOf = (html: string) =>
  blocksOfHtml(html).map(({ kind, level, marker, runs }) => [
    kind,
    level,
    marker,
    runs.map(({ text, bold, italic }) => `${bold ? '*' : ''}${italic ? '/' : ''}${text}`).join('|'),
  ]);

test('what an editor writes becomes blocks', () => {
  expect(
    plainOf(
      '<h2>Papers</h2><p>Dear <strong>Pell</strong>, <em>please</em> sign.</p><ul><li><p>one</p></li><li><p>two</p><ol start="3"><li><p>three</p></li></ol></li></ul><blockquote><p>said</p></blockquote><hr><pre><code>a\n b</code></pre>',
    ),
  ).toEqual([
    ['heading', 2, '', 'Papers'],
    ['paragraph', 0, '', 'Dear |*Pell|, |/please| sign.'],
    ['item', 0, '•', 'one'],
    ['item', 0, '•', 'two'],
    ['item', 1, '3.', 'three'],
    ['quote', 1, '', 'said'],
    ['rule', 0, '', ''],
    ['code', 0, '', 'a\n b'],
  ]);
});

test('text without formatting becomes paragraphs with their lines', () => {
  expect(blocksOf({ html: '', text: 'One\r\ntwo\n\n\nthree' }).map(({ runs }) => runs[0]!.text)).toEqual([
    'One\ntwo',
    'three',
  ]);
});

const message = (html: string): MessageContent => ({
  messageId: 'a@b',
  from: { name: 'M <b>', address: 'm@larkmoor.example' },
  to: [{ name: '', address: 'p@postbox.example' }],
  cc: [],
  subject: '</title><script>1</script>',
  date: new Date(0),
  reference: '',
  text: '',
  html,
  files: [],
});

test.each([
  '<script>alert(1)</script><p>x</p>',
  '<img src=x onerror=alert(1)>',
  '<a href="javascript:alert(1)">x</a>',
  '<a href="https://x.example/&quot; onclick=&quot;alert(1)">x</a>',
  '<style>@import url(http://x)</style>',
  '<svg onload=alert(1)>',
  '<iframe src="http://x"></iframe>',
  '<p style="background:url(http://x)">x</p>',
  '<link rel=stylesheet href=http://x>',
  '<base href=http://x>',
  '<meta http-equiv=refresh content="0;url=http://x">',
  '<form action=http://x><input></form>',
  '<p>&lt;script&gt;alert(1)&lt;/script&gt;</p>',
  '<math><mi xlink:href="javascript:1">',
])('nothing of %s runs or loads on the page', (html) => {
  const page = messagePage(message(html), { language: 'en', zone: 'UTC' });
  const [, body] = page.split('<body>');
  expect(body).not.toMatch(
    /<(?:script|img|style|svg|iframe|link|base|meta|form|input|math)\b|\son\w+\s*=\s*["']?alert|javascript:|url\(/i,
  );
  for (const [, href] of body!.matchAll(/href="([^"]*)"/g)) expect(href).toMatch(/^(?:https:\/\/|mailto:)/);
});

test('quotes that lie in one another five thousand times end', () =>
  expect(blocksOfHtml(`${'<blockquote>'.repeat(5_000)}x`).length).toBe(1));
