/** File names as they come from other people's disks and mails, made safe to show and to save. */
import { trimmedEnd } from './trim-end';

// Names Windows opens as a device whatever their extension.
const DEVICE = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i;

/**
 * Keeps the last path segment; drops control characters and direction overrides ("exe.fdp" shown as "pdf.exe"); at most
 * 200 characters, extension kept.
 */
export function safeFileName(name: string): string {
  const last = name.normalize('NFC').split(/[/\\]/).at(-1) ?? '';
  const shown = last.replace(/[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069]/gu, '').replace(/[<>:"|?*]/g, '_');
  const cleaned = trimmedEnd(shown, '. ').trim();
  if (cleaned === '' || /^\.+$/.test(cleaned)) return 'file';
  const safe = DEVICE.test(cleaned) ? `_${cleaned}` : cleaned;
  if (safe.length <= 200) return safe;
  const dot = safe.lastIndexOf('.');
  const extension = dot > 0 && safe.length - dot <= 12 ? safe.slice(dot) : '';
  return safe.slice(0, 200 - extension.length) + extension;
}

/** Gives a second "scan.pdf" the name "scan (2).pdf", so that saving all loses none. */
export function distinctNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    const dot = name.lastIndexOf('.');
    const [stem, extension] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
    let candidate = name;
    for (let n = 2; taken.has(candidate.toLowerCase()); n++) candidate = `${stem} (${n})${extension}`;
    taken.add(candidate.toLowerCase());
    return candidate;
  });
}
