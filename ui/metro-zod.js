/** Zod brings all its languages unless told otherwise: half of every chunk that validates anything. */
const path = require('node:path');

const onlyEnglish = path.join(__dirname, 'zod-locales.js');

module.exports = function withOneZodLanguage(config) {
  config.resolver.resolveRequest = (context, name, platform) => {
    if (/locales(\/index(\.js)?)?$/.test(name) && /node_modules[\\/]zod[\\/]v4/.test(context.originModulePath)) return { type: 'sourceFile', filePath: onlyEnglish };
    return context.resolveRequest(context, name, platform);
  };
  return config;
};
