/** A text as a QR picture (ISO/IEC 18004), drawn as one path. */
import { create } from 'qrcode';
import { colour } from '@under-lock/ui';

const QUIET = 4;

export function QrPicture({ text, label, size = 200 }: { text: string; label: string; size?: number }) {
  const { modules } = create(text, { errorCorrectionLevel: 'M' });
  const whole = modules.size + QUIET * 2;
  const squares = Array.from({ length: modules.size * modules.size }, (_, at) =>
    modules.data[at] === 1 ? `M${(at % modules.size) + QUIET} ${Math.floor(at / modules.size) + QUIET}h1v1h-1z` : '',
  ).join('');
  return (
    <svg width={size} height={size} viewBox={`0 0 ${whole} ${whole}`} role="img" aria-label={label}>
      <rect width={whole} height={whole} fill={colour.paper} />
      <path d={squares} fill={colour.ink} />
    </svg>
  );
}
