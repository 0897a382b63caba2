/**
 * Files with functions that are longer than the house's limit. One leaves this list when it is taken apart; none joins
 * it.
 */
export const longFunctions = ['server/src/demo/seed.ts'];
