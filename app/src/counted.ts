/** How many, as it stands in a sentence: "19,900". */
export const figure = (count: number): string => count.toLocaleString('en-GB');

/** "1 access", "2 accesses". */
export const counted = (count: number, one: string, many: string): string =>
  `${figure(count)} ${count === 1 ? one : many}`;
