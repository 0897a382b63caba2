/** Other people's HTML, with all its power taken. */
import { cleanHtml } from '../../ui/src/HtmlFrame';

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
