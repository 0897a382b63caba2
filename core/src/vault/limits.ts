/** Of one request that writes several items. */
export const LOT_ITEMS = 500;
/** After so many steps a manifest is written whole: the server keeps as many for whoever was away. */
export const STEPS = 64;
/** What the server takes at most before it wants one whole. */
export const MOST_STEPS = 2 * STEPS;
/** A step that names a lot. */
export const MAX_STEP_BYTES = 64_000;
