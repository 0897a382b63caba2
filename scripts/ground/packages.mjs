/** What a bare machine lacks: Debian's packages (as root) and node_modules. */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { at } from './paths.mjs';
import { capture, mustRun } from './run.mjs';

const isRoot = process.getuid?.() === 0;

/** Installs Debian packages whose `proof` file is missing; when not root, says the one command to run. */
export async function ensureDebian(wanted) {
  const missing = wanted.filter(({ proof }) => !existsSync(proof)).map(({ name }) => name);
  if (missing.length === 0) return;
  if (!isRoot)
    throw new Error(
      `Missing: ${missing.join(', ')}. Please run:\n  sudo apt-get install -y --no-install-recommends ${missing.join(' ')}`,
    );
  if (missing.includes('slapd')) {
    // Or the package makes and starts a directory of its own.
    capture('debconf-set-selections', [], { input: 'slapd slapd/no_configuration boolean true\n' });
  }
  if (missing.some((name) => name.startsWith('postgresql'))) {
    // Or the package makes and starts a cluster of its own beside ours.
    mkdirSync('/etc/postgresql-common', { recursive: true });
    if (!existsSync('/etc/postgresql-common/createcluster.conf'))
      writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
  }
  process.stdout.write(`Installing ${missing.join(', ')} …\n`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const quiet = { env, stdio: ['ignore', 'ignore', 'inherit'] };
  await mustRun('apt-get', ['update', '-qq'], quiet);
  await mustRun('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing], quiet);
}

export const postgres = { name: 'postgresql-15', proof: '/usr/lib/postgresql/15/bin/postgres' };
/** Reads our paper and judges our PDFs in the tests. */
export const poppler = { name: 'poppler-utils', proof: '/usr/bin/pdftotext' };
/** Judges the signatures on our mail in the tests. */
export const dkimpy = { name: 'python3-dkim', proof: '/usr/lib/python3/dist-packages/dkim/__init__.py' };
/** Judge our signed statements and their PDFs in the tests. */
export const qpdf = { name: 'qpdf', proof: '/usr/bin/qpdf' };
export const jwcrypto = { name: 'python3-jwcrypto', proof: '/usr/lib/python3/dist-packages/jwcrypto/__init__.py' };
/** Judges certificates and S/MIME in the tests. */
export const openssl = { name: 'openssl', proof: '/usr/bin/openssl' };
/** The public path validation suite (PKITS), and certificates and PKCS#12 files of other programs. */
export const vectors = {
  name: 'python3-cryptography-vectors',
  proof: '/usr/lib/python3/dist-packages/cryptography_vectors/x509/PKITS_data/ReadMe.txt',
};
/** Reads and writes certificates and PKCS#12 files beside ours. */
export const pyCryptography = {
  name: 'python3-cryptography',
  proof: '/usr/lib/python3/dist-packages/cryptography/__init__.py',
};
/** Mail to try a reader on, and what python's own makes of it. */
export const pythonTests = {
  name: 'libpython3.11-testsuite',
  proof: '/usr/lib/python3.11/test/test_email/data/msg_01.txt',
};
/** Judge OpenPGP in the tests: a stateless command line, and a python library of another family. */
export const sqop = { name: 'sqop', proof: '/usr/bin/sqop' };
export const pgpy = { name: 'python3-pgpy', proof: '/usr/lib/python3/dist-packages/pgpy/__init__.py' };
/** Judge locked ZIPs in the tests, and write some for us to open. */
export const sevenZip = { name: '7zip', proof: '/usr/bin/7zz' };
export const libarchive = { name: 'libarchive-tools', proof: '/usr/bin/bsdtar' };
/** Writes compound files for us to read in the tests. */
export const gsf = { name: 'libgsf-bin', proof: '/usr/bin/gsf' };
/** Write office files for us to look into in the tests. */
export const openpyxl = {
  name: 'python3-openpyxl',
  proof: '/usr/lib/python3/dist-packages/openpyxl/__init__.py',
};
export const pyDocx = { name: 'python3-docx', proof: '/usr/lib/python3/dist-packages/docx/__init__.py' };
export const vobject = { name: 'python3-vobject', proof: '/usr/lib/python3/dist-packages/vobject/__init__.py' };
export const odfpy = { name: 'python3-odf', proof: '/usr/lib/python3/dist-packages/odf/__init__.py' };
/** The directory that people are brought in from in the tests. */
export const slapd = { name: 'slapd', proof: '/usr/sbin/slapd' };
/** Mail programs that hand mail in at the door; the first does TLS by a library it only recommends. */
export const swaks = { name: 'swaks', proof: '/usr/bin/swaks' };
export const ssleay = { name: 'libnet-ssleay-perl', proof: '/usr/share/doc/libnet-ssleay-perl/copyright' };
export const msmtp = { name: 'msmtp', proof: '/usr/bin/msmtp' };
export const mutt = { name: 'mutt', proof: '/usr/bin/mutt' };
export const sNail = { name: 's-nail', proof: '/usr/bin/s-nail' };
/** A relay of one's own before the door, and what it signs in with. */
export const postfix = { name: 'postfix', proof: '/usr/sbin/postfix' };
export const sasl = { name: 'libsasl2-modules', proof: '/usr/share/doc/libsasl2-modules/copyright' };
export const curl = { name: 'curl', proof: '/usr/bin/curl' };
/** Debian's headless Chromium: the same engine without the windows nobody looks at, a quarter less work. */
export const chromium = { name: 'chromium-headless-shell', proof: '/usr/bin/chromium-headless-shell' };

/** `npm ci` when the lockfile, a patch, the platform or Node's ABI is another than last time. */
export async function ensureModules() {
  const stampFile = at('node_modules', '.under-lock-stamp');
  const decisive = [
    at('package-lock.json'),
    ...readdirSync(at('patches'))
      .sort()
      .map((name) => at('patches', name)),
  ];
  const stamp = createHash('sha256')
    .update(Buffer.concat(decisive.map((file) => readFileSync(file))))
    .update(`${process.platform}-${process.arch}-${process.versions.modules}`)
    .digest('hex');
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === stamp) return;
  process.stdout.write('Installing node_modules (a few minutes the first time) …\n');
  await mustRun('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    env: { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' },
  });
  // What our patches/ mend in them.
  await mustRun(process.execPath, [at('node_modules/patch-package/index.js')], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  writeFileSync(stampFile, stamp);
}
