import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';

/** The installation's secret, made when it is first wanted. */
export function secretIn(dataDir) {
  const file = `${dataDir}/secret`;
  mkdirSync(dataDir, { recursive: true });
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600 });
  return readFileSync(file, 'utf8').trim();
}
