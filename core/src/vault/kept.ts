/** A vault item with its value, as its owner works with it. */
export interface Kept<T> {
  id: string;
  /** The one that a change replaces. */
  revision: number;
  updatedAt: Date;
  value: T;
}
