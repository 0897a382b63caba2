/** What locked files are made of besides the message, as the office's server gives it to everybody. */
import { type SealingMeans } from '@under-lock/core/locks/lock';

const ANSWER_MS = 30_000;
const FONTS = { regular: '/fonts/next-400.ttf', bold: '/fonts/next-700.ttf' };

/** What is signed with is not among it: that is each writer's own. */
export function meansFrom(server: string, now: () => Date): SealingMeans {
  const fetched = async (path: string): Promise<Response> => {
    const response = await fetch(server + path, { signal: AbortSignal.timeout(ANSWER_MS) });
    if (!response.ok) throw new Error(`The server does not give ${path}: ${response.status}`);
    return response;
  };
  const bytes = async (path: string): Promise<Uint8Array> => new Uint8Array(await (await fetched(path)).arrayBuffer());
  return {
    certificates: async () => [],
    openPgpKeys: async () => [],
    materials: {
      fonts: async () => ({ regular: await bytes(FONTS.regular), bold: await bytes(FONTS.bold) }),
      // Each time: a server of a newer version lets none but its own page leave.
      template: async () => (await fetched('/locked-page.html')).text(),
    },
    now,
  };
}
