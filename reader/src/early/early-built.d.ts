/** Made by the build from `reader/early-markup.tsx`. */
declare module 'early-built' {
  import { type Early } from './built';
  const early: Early;
  export default early;
}
