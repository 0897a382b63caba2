/** Certificates taken from one file; whoever shows them says when there may be more. */
export const MAX_FOUND = 1000;
