/** How the office's pages ask and keep answers. */
import { dequal } from 'dequal';

export const swrSettings = {
  shouldRetryOnError: true,
  errorRetryInterval: 4_000,
  keepPreviousData: true,
  // The library's own comparison takes any two maps or sets for the same, and then shows the old one: a certificate
  // just revoked would stay “valid” until the page is drawn for another reason.
  compare: dequal,
};
