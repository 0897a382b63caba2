/** Just enough of DER to build what no honest program writes. */
const length = (size: number): Buffer => {
  if (size < 0x80) return Buffer.of(size);
  const octets = Buffer.from(size.toString(16).padStart(8, '0'), 'hex');
  return Buffer.concat([Buffer.of(0x84), octets]);
};
export const tagged = (tag: number, content: Buffer): Buffer =>
  Buffer.concat([Buffer.of(tag), length(content.length), content]);
export const sequence = (...parts: Buffer[]): Buffer => tagged(0x30, Buffer.concat(parts));
