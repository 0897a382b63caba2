/** Of one request that writes several items. */
export const LOT_ITEMS = 500;
