/** Zod brings all its languages, a code generator our pages forbid to run, and JSON Schema in both directions: a third of every page, for nothing. */
const path = require('node:path');

const onlyEnglish = path.join(__dirname, 'zod-locales.js');
const unused = path.join(__dirname, 'zod-unused.js');

module.exports = function withSmallZod(config) {
  config.resolver.resolveRequest = (context, name, platform) => {
    if (/node_modules[\\/]zod[\\/]v4/.test(context.originModulePath)) {
      if (/locales(\/index(\.js)?)?$/.test(name)) return { type: 'sourceFile', filePath: onlyEnglish };
      if (/\/(compile|from-json-schema|json-schema-generator)\.js$/.test(name)) return { type: 'sourceFile', filePath: unused };
    }
    return context.resolveRequest(context, name, platform);
  };
  return config;
};
