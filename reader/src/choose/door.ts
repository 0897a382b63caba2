/** Choosing how one is written to, between the server and the thread: without any screen. */
import { certifyReader, getChoosing, putChoice } from '@under-lock/contract/choice';
import { type Reply } from '@under-lock/contract/client';
import { isProblem } from '@under-lock/contract/problem';
import { type Choice } from '@under-lock/core/choosing/choice';
import { type Sample, type SampleMail } from '@under-lock/core/choosing/sample';
import { type Given } from '@under-lock/core/choosing/given';
import { type Visit } from '../address';
import { type ChooseThread } from '../threads/choose';
import { client, threadOf } from '../visit';
import { language } from '../words/words';

export type Choosing = Reply<typeof getChoosing>;
export interface OwnFile {
  name: string;
  bytes: Uint8Array<ArrayBuffer>;
}

export interface ChoosingDoor {
  /** @throws ApiProblem */
  look(): Promise<Choosing>;
  /** Whether the office takes this password. */
  guesses(password: string, known: readonly string[]): Promise<number>;
  given(bytes: Uint8Array, address: string): Promise<Given>;
  sample(sample: Sample): Promise<OwnFile>;
  /** Under a certificate or key, for their mail program. */
  sampleMail(sample: SampleMail): Promise<OwnFile>;
  /** A certificate made for them; the file under `password` holds its key. @throws ApiProblem, RangeError */
  make(
    who: { name: string; address: string },
    password: string,
  ): Promise<{ file: OwnFile; choice: Extract<Choice, { way: 'certificate' }> }>;
  /** @throws ApiProblem */
  keep(choice: Choice): Promise<{ at: Date }>;
}

const run = threadOf<ChooseThread>('choose');

const TRIES = 3;

export function choosingDoor({ id }: Pick<Visit, 'id'>): ChoosingDoor {
  const params = { id };
  const look = () => client(getChoosing, { params });
  return {
    look,
    guesses: (password, known) => run((door) => door.guesses(password, known)),
    given: (bytes, address) => run((door) => door.given(bytes, address, new Date()) as Promise<Given>),
    sample: (sample) => run((door) => door.sample(sample)),
    sampleMail: (sample) => run((door) => door.sampleMail(sample)),
    async make({ name, address }, password) {
      const request = await run((door) => door.request(name, address));
      const { certificate, chain } = await client(certifyReader, { params, body: { request } });
      const { file, choice } = await run((door) => door.bundle(certificate, chain, password));
      return { choice, file: { name: 'certificate.p12', bytes: file } };
    },
    async keep(choice) {
      for (let left = TRIES; ; left--) {
        const { office } = await look();
        const number = crypto.randomUUID();
        const sealed = await run((door) => door.seal(office, office.epoch, number, choice));
        try {
          return await client(putChoice, {
            params,
            body: { id: number, epoch: office.epoch, way: choice.way, language, sealed },
          });
        } catch (error) {
          // The office has a new key since: it is sealed to that one.
          if (!isProblem(error, 'key-renewed') || left === 1) throw error;
        }
      }
    },
  };
}
