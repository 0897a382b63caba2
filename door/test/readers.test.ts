/** What the door reads files with leaves the engine as it was: all that the thread does after a PDF is done by it. */
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';

const PDF = `%PDF-1.4
1 0 obj
<< /Type /Catalog /Pages 2 0 R >>
endobj
2 0 obj
<< /Type /Pages /Kids [3 0 R] /Count 1 >>
endobj
3 0 obj
<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>
endobj
4 0 obj
<< /Length 42 >>
stream
BT /F1 12 Tf 72 700 Td (Berth four) Tj ET
endstream
endobj
5 0 obj
<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>
endobj
trailer
<< /Root 1 0 R /Size 6 >>
%%EOF
`;

const READ = `
const native = Array.prototype.push;
const { readers } = await import('./src/readers.ts');
const texts = [];
for await (const piece of readers.pdf({ name: 'berths.pdf', bytes: new TextEncoder().encode(process.env.PDF) }))
  texts.push(piece.text);
console.log(JSON.stringify({ texts, isNative: Array.prototype.push === native }));
`;

// In an engine of its own: the tests' is not the one that pdf.js would change.
test('a PDF is read, and every array keeps its own push', () => {
  const said = execFileSync(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', READ], {
    cwd: join(__dirname, '..'),
    env: { ...process.env, PDF },
    encoding: 'utf8',
  });
  expect(JSON.parse(said)).toEqual({ texts: ['Berth four'], isNative: true });
});
