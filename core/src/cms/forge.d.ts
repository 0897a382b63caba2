/** The parts of node-forge that are used; its strings hold one octet a character. */
declare module 'node-forge/lib/forge.js' {
  interface ByteBuffer { getBytes(): string; length(): number }
  interface BlockCipher { start(options: { iv: string }): void; update(input: ByteBuffer): void; finish(): boolean; output: ByteBuffer }
  interface Rc2Cipher { start(iv: string): void; update(input: ByteBuffer): void; finish(): boolean; output: ByteBuffer }
  interface OaepOptions { md: object; mgf1: { md: object } }
  interface RsaKey { decrypt(data: string, scheme: 'RSAES-PKCS1-V1_5' | 'RSA-OAEP', options?: OaepOptions): string }
  interface BigInteger { readonly t: number }
  const forge: {
    util: { createBuffer(bytes: string | Uint8Array): ByteBuffer };
    cipher: { createDecipher(algorithm: '3DES-CBC', key: string): BlockCipher };
    rc2: { createDecryptionCipher(key: string, effectiveBits: number): Rc2Cipher };
    jsbn: { BigInteger: new (value: string, radix: number) => BigInteger };
    md: Record<'sha1' | 'sha256' | 'sha384' | 'sha512', { create(): object }>;
    pki: { setRsaPrivateKey(n: BigInteger, e: BigInteger, d: BigInteger, p: BigInteger, q: BigInteger, dP: BigInteger, dQ: BigInteger, qInv: BigInteger): RsaKey };
  };
  export default forge;
}
declare module 'node-forge/lib/*' {
  const forge: unknown;
  export default forge;
}
