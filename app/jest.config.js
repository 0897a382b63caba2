/** What really ships is the web: jest-expo's web preset, in jsdom. */
module.exports = {
  displayName: 'app',
  rootDir: __dirname,
  preset: 'jest-expo/web',
  testMatch: ['<rootDir>/test/**/*.test.{ts,tsx}'],
  setupFiles: ['<rootDir>/../scripts/jest-browser.cjs'],
  moduleNameMapper: {
    '^@under-lock/ui$': '<rootDir>/../ui/src/index.ts',
    '^@under-lock/ui/watermark$': '<rootDir>/../ui/src/Watermark.tsx',
    '^@under-lock/ui/clean-html$': '<rootDir>/../ui/src/HtmlFrame.tsx',
    '^@under-lock/ui/html-frame$': '<rootDir>/../ui/src/LaterHtmlFrame.tsx',
    '^@under-lock/ui/lock-shape$': '<rootDir>/../ui/src/LockShape.tsx',
    '^@under-lock/(core|contract)/(.*)$': '<rootDir>/../$1/src/$2',
    '^react-native$': 'react-native-web',
  },
  transformIgnorePatterns: [
    'node_modules/(?!((jest-)?react-native|@react-native|expo|@expo|react-navigation|@react-navigation|@scure|@hpke|@noble|postal-mime|comlink|swr|zod|dompurify))',
  ],
};
