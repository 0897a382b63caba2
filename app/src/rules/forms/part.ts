/** How a value of a rule is chosen: parts with labels, as data. What draws them knows nothing of rules. */

export interface Option {
  value: string;
  label: string;
}

/** What the office has that a rule may name. */
export interface Names {
  presets: readonly Option[];
  tags: readonly Option[];
  /** Its lists of words and its patterns. */
  lists: readonly Option[];
  colleagues: readonly Option[];
  departments: readonly Option[];
}

type Of<T, V> = { label: string; get: (value: T) => V; set: (value: T, next: V) => T };

export type Part<T> =
  | ({ as: 'one'; options: (names: Names) => readonly Option[] } & Of<T, string>)
  | ({
      as: 'many';
      options: (names: Names) => readonly Option[];
      /** Said where there is none to choose. */ none?: string;
    } & Of<T, readonly string[]>)
  /** Several, each on a line of its own. */
  | ({ as: 'list'; hint: string } & Of<T, readonly string[]>)
  | ({ as: 'number'; hint?: string } & Of<T, number>)
  | ({ as: 'check'; detail?: string } & Of<T, boolean>)
  | ({ as: 'text'; hint: string } & Of<T, string>);

export interface Form<T> {
  /** Before its values: what they are about. */
  label: string;
  /** In the list of what can be added. */
  name: string;
  fresh: T;
  parts: readonly Part<T>[];
  /** Its values, a few words each. */
  said: (value: T, names: Names) => readonly string[];
}

export const labelled = (options: readonly Option[], values: readonly string[], gone = 'no longer there'): string[] =>
  values.map((value) => options.find((one) => one.value === value)?.label ?? gone);

export const optionsOf = <T extends string>(words: Record<T, string>): readonly Option[] =>
  Object.entries<string>(words).map(([value, label]) => ({ value, label }));
