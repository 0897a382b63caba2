import { type z } from 'zod';
import { type ShelfItem } from './opened';

/** A vault item with its value, as its owner works with it. */
export interface Kept<T> {
  id: string;
  /** The one that a change replaces. */
  revision: number;
  updatedAt: Date;
  value: T;
}

/** Undefined for what has another shape than today's. */
export function shaped<S extends z.ZodType>(schema: S, { value, ...item }: ShelfItem): Kept<z.output<S>> | undefined {
  const parsed = schema.safeParse(value);
  return parsed.success ? { ...item, value: parsed.data } : undefined;
}
