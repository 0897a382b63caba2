/**
 * Choosing how one is written to, away from the page: what is chosen is sealed here, a password judged, a sample locked,
 * a key pair made. The page gets what leaves and never a private key but inside a file under its owner's password.
 */
import { type PublicKey } from '@under-lock/core/account/key-pair';
import { type Bytes, toBase64Url } from '@under-lock/core/bytes';
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { type KeyPair, makeKeyPair, makeRequest } from '@under-lock/core/certificate/make-key';
import { type Choice } from '@under-lock/core/choosing/choice';
import { type Given } from '@under-lock/core/choosing/given';
import { type Sample, type SampleMail } from '@under-lock/core/choosing/sample';
import { sealChoice } from '@under-lock/core/choosing/sealed';
import { expose } from 'comlink';

async function fetched(path: string): Promise<Response> {
  const response = await fetch(path);
  if (!response.ok) throw new Error(`${path} could not be fetched`);
  return response;
}
const font = async (weight: 400 | 700): Promise<Uint8Array> =>
  new Uint8Array(await (await fetched(`/fonts/next-${weight}.ttf`)).arrayBuffer());

let made: { key: KeyPair; name: string } | undefined;

const door = {
  seal: (office: PublicKey, epoch: number, id: string, choice: Choice): Promise<Bytes> =>
    sealChoice(office, epoch, id, choice),
  /** Logarithm to base 10 of the guesses it stands. */
  guesses: async (password: string, known: readonly string[]): Promise<number> =>
    (await import('@under-lock/core/passwords/strength')).guessesOf(password, known),
  given: async (bytes: Uint8Array, address: string, now: Date): Promise<Given> =>
    (await import('@under-lock/core/choosing/given')).givenIn(bytes, address, now),
  sample: async (sample: Sample): Promise<{ name: string; bytes: Bytes }> =>
    (await import('@under-lock/core/choosing/sample')).sampleFile(sample, {
      paper: 'a4',
      fonts: async () => ({ regular: await font(400), bold: await font(700) }),
      template: async () => (await fetched('/locked-page.html')).text(),
    }),
  sampleMail: async (sample: SampleMail): Promise<{ name: string; bytes: Bytes }> =>
    (await import('@under-lock/core/choosing/sample')).sampleMail(sample),
  /** A fresh key pair, and the request for a certificate for it. @throws RangeError for an address that is not ASCII */
  async request(name: string, address: string): Promise<Bytes> {
    const key = await makeKeyPair('rsa-3072');
    made = { key, name: name || address };
    return makeRequest(key, { name, addresses: [address] });
  },
  /**
   * The key made last with its certificate, as PKCS#12, and the choice that names it. @throws RangeError on a password
   * that some programs spell otherwise
   */
  async bundle(
    certificate: Uint8Array,
    chain: readonly Uint8Array[],
    password: string,
  ): Promise<{ file: Bytes; choice: Extract<Choice, { way: 'certificate' }> }> {
    if (made === undefined) throw new Error('No key was made');
    const { writePkcs12 } = await import('@under-lock/core/key-files/pkcs12/write');
    const own = readCertificate(certificate);
    const file = await writePkcs12(
      {
        privateKey: made.key.privateKey,
        certificate: own,
        chain: chain.map((one) => readCertificate(one)),
        name: made.name,
      },
      password,
    );
    return {
      file,
      choice: {
        way: 'certificate',
        certificate: toBase64Url(certificate.slice() as Bytes),
        chain: chain.map((one) => toBase64Url(one.slice() as Bytes)),
        notAfter: own.notAfter.toISOString(),
      },
    };
  },
};
export type ChooseThread = typeof door;

expose(door);
