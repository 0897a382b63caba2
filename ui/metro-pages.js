/** What both web applications leave out of their pages. */
const path = require('node:path');

const onlyEnglish = path.join(__dirname, 'zod-locales.js');
const unused = path.join(__dirname, 'zod-unused.js');
const workerOnly = path.join(__dirname, 'worker-only.js');

const lockFolder = /core[\\/]src[\\/]locks[\\/]\w+[\\/]index\.ts$/;
const inThreads = /^\.\.?\/(?:room\/)?(?:seal|open|recognise|recognise-mail|unwrapping)$/;

module.exports = function withSmallPages(config) {
  config.resolver.resolveRequest = (context, name, platform) => {
    // Zod brings all its languages, a code generator our pages forbid to run, and JSON Schema in both directions: a
    // third of every page, for nothing.
    if (/node_modules[\\/]zod[\\/]v4/.test(context.originModulePath)) {
      if (/locales(\/index(\.js)?)?$/.test(name)) return { type: 'sourceFile', filePath: onlyEnglish };
      if (/\/(compile|from-json-schema|json-schema-generator|json-schema-processors|to-json-schema)\.js$/.test(name))
        return { type: 'sourceFile', filePath: unused };
    }
    // What locks seal, open and recognise with runs in the worker threads, which are bundled apart.
    if (lockFolder.test(context.originModulePath) && inThreads.test(name))
      return { type: 'sourceFile', filePath: workerOnly };
    return context.resolveRequest(context, name, platform);
  };
  return config;
};
