/** Builds what has changed: server and stand-ins by esbuild, the two web applications by Expo. */
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import { at, root } from './paths.mjs';
import { mustRun } from './run.mjs';

const SKIPPED = new Set(['node_modules', 'dist', '.expo', 'test']);

function hashTree(hash, path) {
  for (const entry of readdirSync(path, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
    if (SKIPPED.has(entry.name)) continue;
    const full = join(path, entry.name);
    if (entry.isDirectory()) hashTree(hash, full);
    else hash.update(full.slice(root.length)).update(readFileSync(full));
  }
}

async function whenChanged(name, folders, build) {
  const hash = createHash('sha256').update(readFileSync(at('package-lock.json')));
  for (const folder of [...folders, 'scripts/ground']) hashTree(hash, at(folder));
  const stampFile = at('dist', `${name}.stamp`);
  const stamp = hash.digest('hex');
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === stamp) return;
  process.stdout.write(`Building ${name} …\n`);
  await build();
  mkdirSync(at('dist'), { recursive: true });
  writeFileSync(stampFile, stamp);
}

const alias = {
  '@under-lock/core': at('core/src'),
  '@under-lock/contract': at('contract/src'),
  '@under-lock/server': at('server/src'),
  '@under-lock/door': at('door/src'),
  '@under-lock/standins': at('standins/src'),
  '@under-lock/reader': at('reader/src'),
  // Its package names only its script.
  'tesseract-core.wasm': at('node_modules/tesseract-wasm/dist/tesseract-core.wasm'),
};

/** The same as ui/metro-pages.js does for the pages. */
const smallZod = {
  name: 'small-zod',
  setup(build) {
    build.onResolve({ filter: /locales\/index\.js$/ }, ({ importer }) =>
      /node_modules[\\/]zod[\\/]v4/.test(importer) ? { path: at('ui/zod-locales.js') } : undefined,
    );
    build.onResolve(
      { filter: /\/(compile|from-json-schema|json-schema-generator|json-schema-processors|to-json-schema)\.js$/ },
      ({ importer }) => (/node_modules[\\/]zod[\\/]v4/.test(importer) ? { path: at('ui/zod-unused.js') } : undefined),
    );
  },
};

/**
 * The threads of a page, bundled apart: Metro hoists what page and thread share into a chunk that its threads never
 * load. Each is named by what is in it, so that a browser keeps it, and the page says which those are
 * (ui/src/thread-script.ts). A thread is one script, or a module that fetches parts of it when they are wanted; helpers
 * are started by threads, which are told where they lie.
 */
async function buildThreads(workspace, base, { scripts = {}, modules = {}, helpers = {} }) {
  const { build } = await import('esbuild');
  const outdir = at(workspace, 'dist/threads');
  const named = {};
  const bundleThread = async (name, entry, shape) => {
    const { metafile } = await build({
      entryPoints: { [name]: at(entry) },
      outdir,
      entryNames: '[name]-[hash]',
      chunkNames: `${name}-[hash]`,
      assetNames: '[name]-[hash]',
      publicPath: `${base}/threads`,
      loader: { '.wasm': 'file', '.gz': 'file' },
      bundle: true,
      metafile: true,
      platform: 'browser',
      target: 'es2022',
      minify: true,
      legalComments: 'none',
      logLevel: 'warning',
      alias,
      plugins: [smallZod],
      // An import of types alone must not bring the module along.
      tsconfigRaw: { compilerOptions: { verbatimModuleSyntax: false } },
      ...shape,
    });
    const [made] = Object.entries(metafile.outputs).find(([, { entryPoint }]) => entryPoint?.endsWith(entry));
    named[name] = `${base}/threads/${basename(made)}`;
  };
  for (const [name, entry] of Object.entries(helpers))
    await bundleThread(name, entry, {
      format: 'esm',
      external: ['module', 'fs', 'path', 'crypto', 'url', 'worker_threads'],
    });
  const define = { SCAN_HELPERS: JSON.stringify(named) };
  for (const [name, entry] of Object.entries(scripts)) await bundleThread(name, entry, { format: 'iife' });
  for (const [name, entry] of Object.entries(modules))
    await bundleThread(name, entry, { format: 'esm', splitting: true, define });
  const page = at(workspace, 'dist/index.html');
  writeFileSync(
    page,
    readFileSync(page, 'utf8').replace(
      '</head>',
      `<script type="application/json" id="threads">${JSON.stringify(named)}</script></head>`,
    ),
  );
}

/** They bring what no bundle holds (machine code, threads, files they look for beside themselves), or are never asked for. */
const besideTheBundle = ['@node-rs/argon2', '7z-wasm', 'pdfjs-dist', 'tinypool', 'pg-hstore', 'pg-native'];

/**
 * With the packages in it: a program or a thread that looks up each file of each package takes twice as long to start.
 * What several of them use lies in one chunk.
 */
async function bundle(entries) {
  const { build } = await import('esbuild');
  const { metafile } = await build({
    entryPoints: entries,
    outdir: at('dist'),
    bundle: true,
    splitting: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    mainFields: ['module', 'main'],
    external: besideTheBundle,
    // Packages of the older kind ask for Node's own modules by it.
    banner: {
      js: "import { createRequire as toRequire } from 'node:module'; const require = toRequire(import.meta.url);",
    },
    outExtension: { '.js': '.mjs' },
    sourcemap: true,
    sourcesContent: false,
    metafile: true,
    logLevel: 'warning',
    alias,
  });
  // Only now: whoever runs the one before has its files until then.
  const made = new Set(Object.keys(metafile.outputs).map((path) => basename(path)));
  for (const name of readdirSync(at('dist')))
    if (/\.mjs(\.map)?$/.test(name) && !made.has(name)) rmSync(at('dist', name));
}

const checkStyle =
  'body{margin:0;padding:24px;background:#F4EFE6;color:#1B2421;font:16px/24px "Atkinson Hyperlegible Next",system-ui,sans-serif}main{overflow-wrap:anywhere;max-width:720px;margin:0 auto;padding:24px;background:#FFFDF8;border:1px solid #D8D0C0}h1{font-size:26px;line-height:32px}h2{font-size:18px}label{display:block;font-weight:600;padding:12px 0}input{font:inherit;min-height:44px;max-width:100%}li{padding:4px 0;overflow-wrap:anywhere}.right{color:#0E5A4C}.wrong{color:#952B1E}.mono{font-family:ui-monospace,monospace;overflow-wrap:anywhere}';

/** The check of statements: one file that runs from a disk, allowed nothing but its own script and style. */
async function buildCheck(entry, outfile) {
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
    entryPoints: [entry],
    bundle: true,
    write: false,
    platform: 'browser',
    format: 'iife',
    target: 'es2022',
    minify: true,
    charset: 'ascii',
    legalComments: 'none',
    logLevel: 'warning',
    alias,
  });
  const script = outputFiles[0].text.trim();
  const hash = (text) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`;
  const policy = `default-src 'none'; script-src ${hash(script)}; style-src ${hash(checkStyle)}; base-uri 'none'; form-action 'none'`;
  writeFileSync(
    outfile,
    `<!doctype html>\n<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta http-equiv="Content-Security-Policy" content="${policy}"><title>Check a statement</title><style>${checkStyle}</style></head><body><main><h1>Check a statement</h1><p>Choose the PDF or the JSON file of a statement. It is looked at in this browser only; nothing is sent anywhere.</p><label for="file">The file</label><input id="file" type="file" accept=".pdf,.json,application/pdf,application/json"><div id="result" role="status"></div></main><script>${script}</script></body></html>\n`,
  );
}

const lockedStyle =
  'body{margin:0;padding:24px;background:#F4EFE6;color:#1B2421;font:16px/24px "Atkinson Hyperlegible Next",system-ui,sans-serif;overflow-wrap:anywhere}main{max-width:720px;margin:0 auto;padding:24px;background:#FFFDF8;border:1px solid #D8D0C0}h1{font-size:24px;line-height:32px;margin:0 0 16px}h2{font-size:18px}dl{display:grid;grid-template-columns:max-content 1fr;gap:4px 16px;margin:0 0 24px;padding:0 0 16px;border-bottom:1px solid #D8D0C0;color:#53605A}dd{margin:0;color:#1B2421}blockquote{margin:16px 0;padding-left:16px;border-left:3px solid #D8D0C0;color:#53605A}pre{white-space:pre-wrap;background:#F4EFE6;padding:12px;max-height:320px;overflow:auto}form{display:grid;gap:12px;max-width:420px}label{font-weight:600}.check{display:flex;gap:12px;align-items:center;font-weight:400;min-height:44px}input[type=password],input[type=text]{font:inherit;min-height:44px;padding:4px 12px;border:1px solid #7A857F;border-radius:6px;background:#FFFDF8;color:#1B2421}input[type=checkbox]{width:22px;height:22px;accent-color:#0E5A4C}button{flex:none;white-space:nowrap;font:inherit;font-weight:600;min-height:44px;padding:4px 16px;border:1px solid #7A857F;border-radius:6px;background:#FFFDF8;color:#1B2421;cursor:pointer}button.main{background:#0E5A4C;border-color:#0E5A4C;color:#FFFFFF}button:disabled{opacity:.7}:focus-visible{outline:3px solid #0E5A4C;outline-offset:2px}h1:focus{outline:none}.wrong{color:#952B1E}.soft{color:#53605A}ul{list-style:none;padding:0}li{padding:8px 0;border-bottom:1px solid #D8D0C0}.row{display:flex;gap:12px;justify-content:space-between;align-items:center}img{max-width:100%}a{color:#0E5A4C}.in1{margin-left:24px}.in2{margin-left:48px}.in3{margin-left:72px}.in4,.in5,.in6{margin-left:96px}.heading{margin-left:0}';

/** The self-opening page without its content: it may run its own script, show what it has opened, and reach nothing. */
async function buildLockedPage(entry, outfile) {
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
    entryPoints: [entry],
    bundle: true,
    write: false,
    platform: 'browser',
    format: 'iife',
    target: 'es2020',
    minify: true,
    charset: 'ascii',
    legalComments: 'none',
    logLevel: 'warning',
    alias,
    tsconfigRaw: { compilerOptions: { verbatimModuleSyntax: false } },
  });
  const script = outputFiles[0].text.trim();
  const hash = (text) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`;
  const policy = `default-src 'none'; script-src ${hash(script)}; style-src ${hash(lockedStyle)}; img-src blob:; base-uri 'none'; form-action 'none'`;
  writeFileSync(
    outfile,
    `<!doctype html>\n<html lang="und"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><meta http-equiv="Content-Security-Policy" content="${policy}"><meta name="referrer" content="no-referrer"><title>Locked</title><style>${lockedStyle}</style></head><body><main></main><!--sealed--><script>${script}</script></body></html>\n`,
  );
}

const escapedAttribute = (text) => text.replace(/&/g, '&amp;').replace(/"/g, '&quot;');

/** Pages made from the reader's components by a program that is built, run and thrown away. */
async function drawPages(entry) {
  const { build } = await import('esbuild');
  mkdirSync(at('.tmp'), { recursive: true });
  const outfile = at('.tmp', `${basename(entry, '.tsx')}-${process.pid}.mjs`);
  await build({
    entryPoints: [at(entry)],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    jsx: 'automatic',
    logLevel: 'warning',
    // Style names are spelled as the pages' own bundler spells them.
    define: { 'process.env.NODE_ENV': '"production"', __DEV__: 'false' },
    resolveExtensions: ['.web.tsx', '.web.ts', '.web.js', '.tsx', '.ts', '.mjs', '.js', '.json'],
    mainFields: ['module', 'main'],
    banner: { js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);" },
    alias: { ...alias, '@under-lock/ui': at('ui/src/index.ts'), 'react-native': at('node_modules/react-native-web') },
    plugins: [smallZod],
    tsconfigRaw: { compilerOptions: { verbatimModuleSyntax: false, jsx: 'react-jsx' } },
  });
  try {
    return await import(outfile);
  } finally {
    rmSync(outfile);
  }
}

/**
 * A page's script with what was made for it, into the reader's files under a name that says what is in it. Gives the
 * path it is served under.
 */
async function writePageScript(name, entry, madeName, made) {
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
    entryPoints: [at(entry)],
    bundle: true,
    write: false,
    platform: 'browser',
    format: 'iife',
    target: 'es2022',
    minify: true,
    charset: 'utf8',
    legalComments: 'none',
    logLevel: 'warning',
    alias: { ...alias, '@under-lock/ui': at('ui/src') },
    plugins: [
      {
        name: 'made',
        setup(building) {
          building.onResolve({ filter: new RegExp(`^${madeName}$`) }, () => ({ path: madeName, namespace: 'made' }));
          building.onLoad({ filter: /.*/, namespace: 'made' }, () => ({
            contents: `export default ${JSON.stringify(made)}`,
          }));
        },
      },
    ],
    tsconfigRaw: { compilerOptions: { verbatimModuleSyntax: false } },
  });
  const [{ contents }] = outputFiles;
  const file = `${name}-${createHash('sha256').update(contents).digest('hex').slice(0, 32)}.js`;
  writeFileSync(at('reader/dist', file), contents);
  return `/room/${file}`;
}

const styleTag = ({ id, css }) => `<style id="${escapedAttribute(id)}">${css}</style>`;

/** Puts the early script and its style sheet into the reader's page; it loads what Expo has put there. */
async function buildEarly() {
  const { early, style } = await (await drawPages('reader/early-markup.tsx')).makeEarly();
  const script = await writePageScript('early', 'reader/src/early/page.ts', 'early-built', early);
  const page = at('reader/dist/index.html');
  const html = readFileSync(page, 'utf8');
  const scripts = [...html.matchAll(/<script src="([^"]+)" defer><\/script>/g)];
  if (scripts.length === 0) throw new Error('The reading page loads no script: has Expo changed how it says so?');
  const first = `<script src="${script}" defer data-then="${escapedAttribute(scripts.map(([, src]) => src).join(' '))}"></script>`;
  const without = scripts.reduce((made, [tag]) => made.replace(tag, ''), html);
  writeFileSync(page, without.replace('</head>', `${styleTag(style)}</head>`).replace('</body>', `${first}</body>`));
}

/** The mail slot's page: the reading page's head, a sentence for who has no scripts, and a script of its own. */
async function buildSlot(readingPage) {
  const { slot, style, without } = (await drawPages('reader/slot-markup.tsx')).makeSlot();
  const script = await writePageScript('slot', 'reader/src/slot/page.ts', 'slot-built', slot);
  const head = readingPage.slice(0, readingPage.indexOf('<body')).replace(/<script src=[^>]*><\/script>/g, '');
  mkdirSync(at('reader/dist/slot'), { recursive: true });
  writeFileSync(
    at('reader/dist/slot/index.html'),
    `${head
      .replace(/<title>[^<]*<\/title>/, '<title>Mail slot</title>')
      .replace(
        '</head>',
        `${styleTag(style)}<style id="slot">[hidden]{display:none!important}[data-wrong]{color:var(--brick)!important}</style></head>`,
      )}<body><noscript>${without}</noscript><div id="root"></div><script src="${script}" defer></script></body></html>\n`,
  );
}

function compressTree(dir) {
  for (const entry of readdirSync(dir, { withFileTypes: true })) {
    const full = join(dir, entry.name);
    if (entry.isDirectory()) compressTree(full);
    else if (/\.(m?js|css|json|bcmap|wasm)$/.test(entry.name)) {
      const bytes = readFileSync(full);
      writeFileSync(`${full}.gz`, gzipSync(bytes, { level: 9 }));
      writeFileSync(`${full}.br`, brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }));
    }
  }
}

const expoEnv = { ...process.env, EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', CI: '1', NODE_ENV: 'production' };

async function exportWeb(workspace) {
  rmSync(at(workspace, 'dist'), { recursive: true, force: true });
  await mustRun(process.execPath, [at('node_modules/expo/bin/cli'), 'export', '--platform', 'web'], {
    cwd: at(workspace),
    env: expoEnv,
    stdio: ['ignore', process.env.CI ? 'ignore' : 'ignore', 'inherit'],
  });
}

/** pdf.js stays outside the bundle: its modules are loaded as they are published, only when a PDF is looked at. */
function copyPdfjs(target) {
  const from = at('node_modules/pdfjs-dist');
  mkdirSync(target, { recursive: true });
  for (const file of ['build/pdf.min.mjs', 'build/pdf.worker.min.mjs'])
    cpSync(join(from, file), join(target, file.split('/')[1]));
  for (const folder of ['cmaps', 'standard_fonts', 'wasm'])
    cpSync(join(from, folder), join(target, folder), { recursive: true });
}

export async function buildServer() {
  await whenChanged('server', ['core/src', 'contract/src', 'server/src', 'door/src', 'standins/src'], () =>
    bundle({
      server: at('server/src/main.ts'),
      door: at('door/src/main.ts'),
      dealing: at('door/src/dealing.ts'),
      outside: at('standins/src/main.ts'),
      'outside-keys': at('standins/src/keys-main.ts'),
      seed: at('server/src/demo/main.ts'),
      invite: at('server/src/account/invite-main.ts'),
      prepare: at('server/src/data/prepare-main.ts'),
      reading: at('server/src/thread/thread.ts'),
    }),
  );
}

export async function buildWeb() {
  const shared = ['core/src', 'contract/src', 'ui'];
  await whenChanged('reader', [...shared, 'reader'], async () => {
    await exportWeb('reader');
    await buildThreads('reader', '/room', {
      scripts: {
        reading: 'reader/src/threads/reading.ts',
        reply: 'reader/src/threads/reply.ts',
        slot: 'reader/src/threads/slot.ts',
      },
      modules: { choose: 'reader/src/threads/choose.ts', account: 'reader/src/threads/account.ts' },
    });
    copyPdfjs(at('reader/dist/pdf'));
    cpSync(at('ui/print.css'), at('reader/dist/print.css'));
    const readingPage = readFileSync(at('reader/dist/index.html'), 'utf8');
    await buildEarly();
    await buildSlot(readingPage);
    compressTree(at('reader/dist'));
  });
  await whenChanged('app', [...shared, 'reader/src', 'app'], async () => {
    await exportWeb('app');
    await buildThreads('app', '', {
      scripts: { statement: 'app/src/threads/statement.ts' },
      modules: {
        main: 'app/src/threads/main/thread.ts',
        keys: 'app/src/threads/keys/thread.ts',
        search: 'app/src/threads/search/thread.ts',
        scan: 'app/src/threads/scan/thread.ts',
      },
      helpers: {
        unpack: 'app/src/threads/scan/unpack-thread.ts',
        picture: 'app/src/threads/scan/picture-thread.ts',
      },
    });
    await buildCheck(at('app/src/statement/check-page.ts'), at('app/dist/statement-check.html'));
    await buildLockedPage(at('reader/src/locked-page/page.ts'), at('app/dist/locked-page.html'));
    copyPdfjs(at('app/dist/pdf'));
    cpSync(at('ui/print.css'), at('app/dist/print.css'));
    compressTree(at('app/dist'));
  });
}
