import { chainAbove } from '../../src/certificate/chain';

const one = (subject: string, issuer: string) => ({ subject: { key: subject }, issuer: { key: issuer } });
const [leaf, issuing, root] = [one('leaf', 'issuing'), one('issuing', 'root'), one('root', 'root')];

test('from the issuer up to the root, in order, whatever else lies about', () => {
  expect(chainAbove(leaf, [root, one('other', 'root'), issuing])).toEqual([issuing, root]);
  expect(chainAbove(leaf, [])).toEqual([]);
  expect(chainAbove(leaf, [issuing])).toEqual([issuing]);
});

test('authorities that name one another, or that never end, end', () => {
  const circle = [one('issuing', 'above'), one('above', 'issuing')];
  expect(chainAbove(leaf, circle)).toEqual(circle);
  expect(
    chainAbove(
      leaf,
      Array.from({ length: 1000 }, (_, index) => one(index === 0 ? 'issuing' : `a${index}`, `a${index + 1}`)),
    ),
  ).toHaveLength(10);
});
