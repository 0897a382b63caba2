/** What optional properties take: a property that may be undefined becomes one that may be absent. */
type Defined<T> = { [Key in keyof T as undefined extends T[Key] ? never : Key]: T[Key] } & {
  [Key in keyof T as undefined extends T[Key] ? Key : never]?: Exclude<T[Key], undefined>;
};

/** The same without what is undefined. @example `{ name, ...defined({ phone }) }` */
export const defined = <T extends object>(value: T): Defined<T> =>
  Object.fromEntries(Object.entries(value).filter(([, one]) => one !== undefined)) as Defined<T>;
