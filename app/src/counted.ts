/** "1 access", "2 accesses". */
export const counted = (count: number, one: string, many: string): string => `${count} ${count === 1 ? one : many}`;
