/** Other people's HTML, with all its power taken. */
import { cleanForPaper, cleanHtml } from '../../ui/src/HtmlFrame';
import { hostileBodies } from '../../e2e/hostile-bodies';

test.each([
  ['<script>alert(1)</script>hello', 'hello'],
  ['<p onclick="x()">hello</p>', '<p>hello</p>'],
  ['<img src="https://tracker.example/x.png">', '<img>'],
  ['<img src="data:image/svg+xml,<svg onload=x()>">', '<img>'],
  ['<div style="background:url(https://tracker.example)">x</div>', '<div>x</div>'],
  ['<link rel="stylesheet" href="https://x.example"><style>p{}</style><p>x</p>', '<p>x</p>'],
  ['<form action="https://x.example"><input name="password"><button>ok</button></form>', 'ok'],
  ['<iframe src="https://x.example"></iframe><object data="x"></object><embed src="x">', ''],
  ['<a href="javascript:alert(1)">x</a>', '<a target="_blank" rel="noopener noreferrer">x</a>'],
  ['<a href="https://x.example">x</a>', '<a href="https://x.example" target="_blank" rel="noopener noreferrer">x</a>'],
  ['<svg><script>alert(1)</script></svg>', ''],
  ['<meta http-equiv="refresh" content="0;url=https://x.example"><base href="https://x.example">x', 'x'],
  ['<video poster="https://x.example"></video><p background="https://x.example">x</p>', '<p>x</p>'],
])('%s is shown as %s', (html, clean) => expect(cleanHtml(html)).toBe(clean));

test('a picture that travels inside the message stays', () => {
  expect(cleanHtml('<img src="data:image/png;base64,AAAA">')).toContain('data:image/png;base64,AAAA');
});

describe('hostile bodies, cleaned', () => {
  const attributes = (html: string): { tag: string; name: string; value: string }[] =>
    [...new DOMParser().parseFromString(html, 'text/html').querySelectorAll('*')].flatMap((element) =>
      [...element.attributes].map(({ name, value }) => ({ tag: element.tagName, name, value })),
    );
  // jsdom's own recursion ends long before a browser's: that one is the browser test's.
  it.each(hostileBodies.filter(([what]) => what !== 'ten thousand nested boxes'))('%s', (_, html) => {
    for (const { name, value } of attributes(cleanHtml(html))) {
      expect(name).not.toMatch(/^on|^srcdoc$|^formaction$|^ping$|^id$|^name$/);
      if (['src', 'srcset', 'background', 'poster', 'data', 'action'].includes(name))
        expect(value).toMatch(/^data:image\//);
      if (name === 'style') expect(value).not.toMatch(/\\|url|image-set|expression/i);
      if (name === 'href') expect(value).not.toMatch(/^\s*(javascript|data):/i);
    }
    // Paper lies in the page itself: nothing may give it another place, a link or a load.
    for (const { name, value } of attributes(cleanForPaper(html))) {
      expect(name).not.toMatch(/^on|^style$|^srcset$|^href$|^class$|^id$|^background$/);
      if (name === 'src') expect(value).toMatch(/^data:image\/(png|jpeg|gif|webp);/);
    }
    expect(cleanForPaper(html)).not.toMatch(
      /<(script|style|iframe|form|input|svg|math|link|meta|base|object|embed)\b/i,
    );
  });
  it('are more than sixty', () => expect(hostileBodies.length).toBeGreaterThanOrEqual(60));
});
