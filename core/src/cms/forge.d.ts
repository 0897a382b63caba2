/** The parts of node-forge that are used; its strings hold one octet a character. */
declare module 'node-forge/lib/forge.js' {
  interface ByteBuffer {
    getBytes(): string;
    length(): number;
  }
  interface BlockCipher {
    start(options: { iv: string }): void;
    update(input: ByteBuffer): void;
    finish(): boolean;
    output: ByteBuffer;
  }
  interface Rc2Cipher {
    start(iv: string): void;
    update(input: ByteBuffer): void;
    finish(): boolean;
    output: ByteBuffer;
  }
  const forge: {
    util: { createBuffer(bytes: string | Uint8Array): ByteBuffer };
    cipher: { createDecipher(algorithm: '3DES-CBC', key: string): BlockCipher };
    rc2: { createDecryptionCipher(key: string, effectiveBits: number): Rc2Cipher };
  };
  export default forge;
}
declare module 'node-forge/lib/*' {
  const forge: unknown;
  export default forge;
}
