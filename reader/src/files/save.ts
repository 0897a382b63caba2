/** Hands a file to the browser to be kept. Never as its own type: a saved page must not run on our origin. */
export function save({ name, bytes }: { name: string; bytes: Uint8Array<ArrayBuffer> }): void {
  const url = URL.createObjectURL(new Blob([bytes], { type: 'application/octet-stream' }));
  const link = Object.assign(document.createElement('a'), { href: url, download: name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
