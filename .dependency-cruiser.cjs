/** The arrows of the house: app → reader → ui; app, reader, server → contract → core; standins → core. Nothing else. */
const only = (from, ...allowed) => ({
  name: `${from}-reaches-only-${allowed.join('-') || 'itself'}`,
  severity: 'error',
  from: { path: `^${from}/` },
  to: { path: '^(core|contract|server|ui|app|reader|standins)/', pathNot: `^(${[from, ...allowed].join('|')})/` },
});

module.exports = {
  forbidden: [
    { ...only('core'), from: { path: '^core/src/' } },
    { ...only('contract', 'core'), from: { path: '^contract/src/' } },
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
    { name: 'ui-knows-nothing-of-mail', severity: 'error', from: { path: '^ui/' }, to: { path: '^(core|contract)/' } },
    { name: 'features-never-import-routes', severity: 'error', from: { path: '^app/src/' }, to: { path: '^app/app/' } },
    {
      name: 'sending-is-cores',
      comment: 'No other code splits a key or builds a mail: core/outgoing and the locks do.',
      severity: 'error',
      from: { path: '^(contract|server|app|reader)/src/' },
      to: { path: '^core/src/(locks/room/split|message/build|locks/(certificate|openpgp|file)/seal)\\.ts$' },
    },
    {
      name: 'secrets-stay-behind-the-door',
      severity: 'error',
      from: { path: '^app/src/(?!threads/)' },
      to: {
        path: '^core/src/(sealing|account/(password|secret|recovery)|locks/room/(content|seal|open)|locks/certificate/(seal|unwrap)|locks/file/(seal|open|contents)|zip/(library|read|write)|passwords/(generate|strength)|outgoing/split|cms/.*|certificate/(make-key|private-key|signature|pkcs12/(read|write|derive)))\\.ts$',
        dependencyTypesNot: ['type-only'],
      },
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
