const plain = (name) => ({
  displayName: name,
  rootDir: name,
  testEnvironment: 'node',
  testMatch: ['<rootDir>/test/**/*.test.ts'],
  transform: { '^.+\\.m?[jt]sx?$': '../scripts/jest-esbuild.cjs' },
  setupFilesAfterEnv: ['../scripts/jest-bytes.cjs'],
  // Packages published as ES modules only.
  transformIgnorePatterns: [
    'node_modules/(?!(@scure|@zxcvbn-ts|@zip.js|htmlparser2|domhandler|domutils|domelementtype|dom-serializer|entities|@libpdf|@noble|micro-rsa-dsa-dh|lru-cache|pako|hash-wasm|postal-mime|openpgp|fast-check|pure-rand|file-type|token-types|strtok3|uint8array-extras|@tokenizer|@borewit|mrz|re2js|tinypool)/)',
  ],
  moduleNameMapper: { '^@under-lock/(core|contract|server|door|standins)/(.*)$': '<rootDir>/../$1/src/$2' },
});

// The server's threads run what is built.
const server = {
  ...plain('server'),
  globalSetup: '../scripts/jest-server.mjs',
  setupFiles: ['../scripts/jest-quick-hashing.cjs'],
};

// It stands between mail programs and a whole server.
const door = { ...server, displayName: 'door', rootDir: 'door' };

export default {
  projects: [
    plain('core'),
    plain('contract'),
    server,
    door,
    '<rootDir>/app/jest.config.js',
    '<rootDir>/reader/jest.config.js',
  ],
  testTimeout: 30_000,
};
