/** Copies sealed where the sender's own keys are, and put to the server as they will leave. */
import { type CopyOrder, sealCopy } from '@under-lock/core/locks/index';
import { type SealingMeans } from '@under-lock/core/locks/lock';
import { usableCertificates } from '@under-lock/core/certificate/usable';
import { type MessageToSeal } from '@under-lock/core/outgoing/content';
import { type PaperFonts } from '@under-lock/core/pdf/setter';
import { contentOf } from '../main/message';
import { upload } from '../transfer';
import { keptOpenPgpSchema } from '@under-lock/core/openpgp/kept-key';
import { keptKeys, keptOf } from '../opened/vault';

async function fetched(path: string): Promise<Response> {
  const response = await fetch(path);
  if (!response.ok) throw new Error(`${path} could not be fetched`);
  return response;
}
const font = async (weight: 400 | 700): Promise<Uint8Array> =>
  new Uint8Array(await (await fetched(`/fonts/next-${weight}.ttf`)).arrayBuffer());
let kept: Promise<PaperFonts> | undefined;
/** Fetched once for all letters; a failure is not kept. */
const fonts = (): Promise<PaperFonts> =>
  (kept ??= Promise.all([font(400), font(700)])
    .then(([regular, bold]) => ({ regular, bold }))
    .catch((error: unknown) => {
      kept = undefined;
      throw error;
    }));

const means: SealingMeans = {
  certificates: keptKeys,
  openPgpKeys: () => keptOf('key', keptOpenPgpSchema),
  materials: {
    fonts,
    // Each time: a server of a newer version lets none but its own page leave.
    template: async () => (await fetched('/locked-page.html')).text(),
  },
  now: () => new Date(),
};

export const copies = {
  /** Whether S/MIME copies from this address will be signed. */
  signs: async (address: string, now: Date): Promise<boolean> =>
    usableCertificates(await keptKeys(), address, 'sign', now).length > 0,
  /** @throws ApiProblem, VaultOldError, and what the lock throws */
  async put(order: CopyOrder, message: MessageToSeal, blobId: string, progress: (done: number) => void): Promise<void> {
    await upload(blobId, [await sealCopy(order, await contentOf(message), means)], progress);
  },
};
