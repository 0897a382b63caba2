import { Loading } from '@under-lock/ui';

/** While a page's own code comes: takes the place of the router's empty one (metro.config.js). */
export const SuspenseFallback = () => <Loading what="Opening" />;
