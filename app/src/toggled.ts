/** In or out of a list. */
export const toggled = <T>(list: readonly T[], value: T): T[] =>
  list.includes(value) ? list.filter((each) => each !== value) : [...list, value];
