/** Whose rights our processes keep when root starts them: a user of their own that owns nothing but what they write. */
import { chownSync, closeSync, mkdirSync, openSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { at } from './paths.mjs';
import { capture } from './run.mjs';

const NAME = 'under-lock';

const idOf = (name) => {
  const uid = capture('id', ['-u', name], { stdio: ['ignore', 'pipe', 'ignore'] });
  return uid === undefined ? undefined : { name, uid: Number(uid), gid: Number(capture('id', ['-g', name])) };
};

/** Undefined when nobody is root here, and with a line that says why when such a user can't read this folder. */
export function ownUser() {
  if (process.getuid?.() !== 0) return undefined;
  const user =
    idOf(NAME) ??
    (capture('useradd', [
      '--system',
      '--user-group',
      '--no-create-home',
      '--home-dir',
      '/nonexistent',
      '--shell',
      '/usr/sbin/nologin',
      NAME,
    ]) === undefined
      ? undefined
      : idOf(NAME));
  const reads = (path, how) => capture('test', [how, path], { uid: user.uid, gid: user.gid, cwd: '/' }) !== undefined;
  if (
    user !== undefined &&
    reads(at('dist', 'server.mjs'), '-r') &&
    reads(at('node_modules', 'koa', 'package.json'), '-r')
  )
    return user;
  process.stdout.write(
    user === undefined
      ? 'The server keeps root’s rights: no user could be made for it.\n'
      : `The server keeps root’s rights: the user ${NAME} can’t read ${at('.')}. Put it where everybody can, in /opt for example.\n`,
  );
  return undefined;
}

/** A file the user may write, and read nothing else around it. */
export function giveFile(path, { uid, gid }) {
  closeSync(openSync(path, 'a', 0o600));
  chownSync(path, uid, gid);
}

export function giveFolder(path, user) {
  mkdirSync(path, { recursive: true });
  chownSync(path, user.uid, user.gid);
  for (const entry of readdirSync(path, { withFileTypes: true })) {
    const inside = join(path, entry.name);
    if (entry.isDirectory()) giveFolder(inside, user);
    else chownSync(inside, user.uid, user.gid);
  }
}
