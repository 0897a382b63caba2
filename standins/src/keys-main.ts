/**
 * Makes the authorities, key holders and mail hosts' key of this world in a folder: keys take seconds, which nobody
 * waiting has.
 */
import { mkdirSync } from 'node:fs';
import { openAuthorities } from './authority/authorities';
import { mailSigningKey } from './dns';
import { openKeyring } from './openpgp/keyring';

const dir = process.argv[2];
if (dir === undefined) throw new Error('Say in which folder.');
mkdirSync(dir, { recursive: true });
await Promise.all([openAuthorities(dir, new Date()), openKeyring(dir, new Date()), mailSigningKey(dir)]);
