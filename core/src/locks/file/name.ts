/** What a locked file is called: by a pattern that says nothing of what is inside. */
import { generateCharacters } from 'secure-password-utilities';
import { safeFileName } from '../../file-name';
import { dateFormat } from '../../kept-formats';
import { type FileWay, OWN_EXTENSION } from '../../ways/file-way';

export interface Naming {
  date: Date;
  zone: string;
  reference: string;
}

/** `2026-11-25 1430`. */
function stamp(date: Date, zone: string): string {
  const parts = Object.fromEntries(
    dateFormat('en-GB', {
      timeZone: zone,
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    })
      .formatToParts(date)
      .map(({ type, value }) => [type, value]),
  );
  return `${parts.year}-${parts.month}-${parts.day} ${parts.hour}${parts.minute}`;
}

const random = (): string => generateCharacters(8, 'abcdefghijkmnpqrstuvwxyz23456789');

function stem({ naming, fixedName }: Pick<FileWay, 'naming' | 'fixedName'>, { date, zone, reference }: Naming): string {
  switch (naming) {
    case 'fixed':
      return fixedName.trim() || 'message';
    case 'date':
      return stamp(date, zone);
    case 'random':
      return random();
    case 'reference':
      return reference.trim() || stamp(date, zone);
  }
}

/** Without its ending a dot could make another; one that is a path, hidden or a device is made safe. */
export const lockedFileName = (
  way: Pick<FileWay, 'naming' | 'fixedName' | 'container' | 'extension'>,
  naming: Naming,
): string =>
  safeFileName(
    `${stem(way, naming)
      .replace(/[./\\]+/g, '-')
      .slice(0, 60)}.${way.extension ?? OWN_EXTENSION[way.container]}`,
  );

/** File types that do not get smaller when they are packed. */
const PACKED = new Set([
  'zip',
  '7z',
  'rar',
  'gz',
  'bz2',
  'xz',
  'zst',
  'jpg',
  'jpeg',
  'png',
  'gif',
  'webp',
  'heic',
  'avif',
  'mp3',
  'm4a',
  'aac',
  'ogg',
  'mp4',
  'mov',
  'avi',
  'mkv',
  'webm',
  'docx',
  'xlsx',
  'pptx',
  'odt',
  'ods',
  'odp',
  'epub',
  'p7m',
  'gpg',
]);
/** By our list and the office's own. */
export function isPackedAlready(name: string, storedTypes: readonly string[]): boolean {
  const type = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  return PACKED.has(type) || storedTypes.includes(type);
}
