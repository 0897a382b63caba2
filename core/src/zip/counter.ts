/**
 * AES in counter mode as ZIP's AE-2 format counts, in WebAssembly: an engine's own counts from the other end, and
 * JavaScript takes twice the time.
 */
import { type Bytes, fromBase64Url } from '../bytes';
import { COUNTER_WASM } from './counter-wasm';

interface Counter {
  memory: WebAssembly.Memory;
  /** Where the key goes, and where the data. */
  key(): number;
  data(): number;
  /** Octets of data that fit. */
  room(): number;
  begin(keyLength: number): void;
  run(length: number, firstBlock: number): void;
}

const BLOCK = 16;

let compiled: Promise<WebAssembly.Module> | undefined;
const module = (): Promise<WebAssembly.Module> => (compiled ??= WebAssembly.compile(fromBase64Url(COUNTER_WASM)));

/** Encrypts or decrypts: the same. `key` is of 16 or 32 bytes. @throws RangeError on a key of another length */
export async function countedAes(key: Uint8Array, bytes: Uint8Array): Promise<Bytes> {
  if (key.length !== 16 && key.length !== 32) throw new RangeError('An AES key of 16 or 32 bytes');
  const { exports } = await WebAssembly.instantiate(await module());
  const counter = exports as unknown as Counter;
  const memory = new Uint8Array(counter.memory.buffer);
  const [place, room] = [counter.data(), counter.room()];
  memory.set(key, counter.key());
  counter.begin(key.length);
  const out = new Uint8Array(bytes.length);
  for (let at = 0; at < bytes.length; at += room) {
    const piece = bytes.subarray(at, at + room);
    memory.set(piece, place);
    counter.run(piece.length, at / BLOCK + 1);
    out.set(memory.subarray(place, place + piece.length), at);
  }
  memory.fill(0); // the key with its schedule
  return out;
}
