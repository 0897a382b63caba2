const { pathsNamed } = require('./scripts/ground/named-paths.cjs');

/** The arrows of the house: app → reader → ui; app, reader, server, door → contract → core; standins → core. Nothing else. */
const only = (from, ...allowed) => ({
  name: `${from}-reaches-only-${allowed.join('-') || 'itself'}`,
  severity: 'error',
  from: { path: `^${from}/` },
  to: { path: '^(core|contract|server|ui|app|reader|door|standins)/', pathNot: `^(${[from, ...allowed].join('|')})/` },
});

const SENDING = [
  'core/src/locks/room/split.ts',
  'core/src/message/build.ts',
  'core/src/locks/certificate/seal.ts',
  'core/src/locks/openpgp/seal.ts',
  'core/src/locks/file/seal.ts',
];

/** What works with keys, passwords and contents in the open. */
const SECRETS = [
  'core/src/sealing.ts',
  'core/src/account/password.ts',
  'core/src/account/secret.ts',
  'core/src/account/recovery.ts',
  'core/src/locks/room/content.ts',
  'core/src/locks/room/seal.ts',
  'core/src/locks/room/open.ts',
  'core/src/locks/unwrap.ts',
  'core/src/locks/certificate/seal.ts',
  'core/src/locks/openpgp/seal.ts',
  'core/src/locks/file/seal.ts',
  'core/src/locks/file/open.ts',
  'core/src/locks/file/contents.ts',
  'core/src/zip/library.ts',
  'core/src/zip/read.ts',
  'core/src/zip/write.ts',
  'core/src/passwords/generate.ts',
  'core/src/passwords/strength.ts',
  'core/src/outgoing/split.ts',
  'core/src/outgoing/access.ts',
  'core/src/cms',
  'core/src/certificate/make-key.ts',
  'core/src/certificate/private-key.ts',
  'core/src/certificate/signature.ts',
  'core/src/certificate/usable.ts',
  'core/src/openpgp/usable.ts',
  'core/src/key-files/pkcs12/derive.ts',
  'core/src/key-files/pkcs12/read.ts',
  'core/src/key-files/pkcs12/write.ts',
];

module.exports = {
  forbidden: [
    { ...only('core'), from: { path: '^core/src/' } },
    { ...only('contract', 'core'), from: { path: '^contract/src/' } },
    { ...only('door', 'contract', 'core'), from: { path: '^door/src/' } },
    { ...only('standins', 'core'), from: { path: '^standins/src/' } },
    { ...only('server', 'contract', 'core'), from: { path: '^server/src/' } },
    only('ui'),
    only('reader', 'ui', 'contract', 'core'),
    only('app', 'reader', 'ui', 'contract', 'core'),
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true, dependencyTypesNot: ['type-only'] } },
    {
      name: 'core-knows-no-screen-no-network',
      severity: 'error',
      from: { path: '^core/src/' },
      to: { path: 'node_modules/(react|koa|pg|sequelize|nodemailer|expo)' },
    },
    { name: 'core-knows-no-node', severity: 'error', from: { path: '^core/src/' }, to: { dependencyTypes: ['core'] } },
    {
      name: 'the-early-page-is-small',
      comment:
        'It comes before anything else: no React, no zod, no catalogue of words; its own parts, the address, the language, the time zone.',
      severity: 'error',
      from: { path: pathsNamed(__dirname, ['reader/src/early/page.ts', 'reader/src/early/early.ts']) },
      to: {
        path: '^(ui/|contract/(?!src/room-paths)|reader/src/(?!early/|address|spoken|zone)|node_modules/(react|zod|swr|comlink))',
        dependencyTypesNot: ['type-only'],
      },
    },
    { name: 'ui-knows-nothing-of-mail', severity: 'error', from: { path: '^ui/' }, to: { path: '^(core|contract)/' } },
    { name: 'features-never-import-routes', severity: 'error', from: { path: '^app/src/' }, to: { path: '^app/app/' } },
    {
      name: 'sending-is-cores',
      comment: 'No other code splits a key or builds a mail: core/outgoing and the locks do.',
      severity: 'error',
      from: { path: pathsNamed(__dirname, ['contract/src', 'server/src', 'app/src', 'reader/src']) },
      to: { path: pathsNamed(__dirname, SENDING) },
    },
    {
      name: 'secrets-stay-behind-the-door',
      severity: 'error',
      from: { path: pathsNamed(__dirname, ['app/src']), pathNot: pathsNamed(__dirname, ['app/src/threads']) },
      to: { path: pathsNamed(__dirname, SECRETS), dependencyTypesNot: ['type-only'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(dist|\\.expo)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: require('node:path').join(__dirname, 'app/tsconfig.json') },
    enhancedResolveOptions: {
      extensions: ['.ts', '.tsx', '.mjs', '.js'],
      exportsFields: ['exports'],
      conditionNames: ['import', 'default'],
    },
  },
};
