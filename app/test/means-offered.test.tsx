import { fireEvent, render, screen } from '@testing-library/react';
import type * as Means from '../src/people/MeansOffered';

const asked: string[] = [];
jest.mock('../src/people/look-up', () => ({
  directoryCertificates: async (address: string) => void asked.push(`directory ${address}`),
  publishedKeys: async (address: string) => {
    asked.push(`keys ${address}`);
    return { found: [], failed: address.startsWith('silent') ? ['the key directory'] : [] };
  },
  judgedKeys: async () => [],
}));
jest.mock('../src/people/person', () => ({ usePeople: () => ({ data: [] }), rememberPerson: async () => undefined }));
jest.mock('../src/keys/CertificateFacts', () => ({ CertificateFacts: () => null }));
jest.mock('../src/keys/openpgp/KeyFacts', () => ({ KeyFacts: () => null }));
jest.mock('../src/people/certificates', () => ({}));
jest.mock('../src/people/keys', () => ({}));

// After what it stands on is in its place.
const { MeansOffered } = jest.requireActual<typeof Means>('../src/people/MeansOffered');

beforeEach(() => asked.splice(0));

test('for a few it is looked for at once, and a place that did not answer is said', async () => {
  render(<MeansOffered person={{ name: 'Nils', address: 'silent@northquay.example' }} atOnce />);
  expect(await screen.findByText('Not every directory answered whether they have a certificate or key.')).toBeTruthy();
  expect(asked.sort()).toEqual(['directory silent@northquay.example', 'keys silent@northquay.example']);
});

test('for many, nobody is asked before the worker says so', async () => {
  const { container } = render(
    <MeansOffered person={{ name: 'Una', address: 'una@northquay.example' }} atOnce={false} />,
  );
  expect(asked).toEqual([]);
  fireEvent.click(screen.getByRole('button', { name: 'Look for the certificate or key of Una' }));
  expect(await screen.findByText(/^Looking whether/)).toBeTruthy();
  await new Promise((done) => setTimeout(done, 50));
  expect(asked).toHaveLength(2);
  expect(container.textContent).toBe('');
});
