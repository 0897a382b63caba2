/** Stands for the parts of zod that ui/metro-pages.js leaves out. */
const left = () => {
  throw new Error('This part of zod is left out of the pages (ui/metro-pages.js)');
};
export const fromJSONSchema = left;
export const JSONSchemaGenerator = left;
export const compile = left;
export const compileFn = left;
export const withParser = left;
export class ZodCompileAsyncError extends Error {}
export class ZodCompileUnsupportedError extends Error {}
export const INVALID = Symbol('invalid');
export const toJSONSchema = left;
// Called for every schema that is made, to hang a method on it.
export const createToJSONSchemaMethod = () => left;
export const createStandardJSONSchemaMethod = () => left;
