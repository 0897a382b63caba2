import { type Bytes } from '@under-lock/core/bytes';

/** Gives the browser a file to save. */
export function saveFile(bytes: Bytes, name: string, type: string): void {
  const url = URL.createObjectURL(new Blob([bytes], { type }));
  Object.assign(document.createElement('a'), { href: url, download: name }).click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
