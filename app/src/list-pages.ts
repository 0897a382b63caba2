/** The pages of a list that is read by cursor, as the asking library wants them: one more as long as one is named. */
export const pagesOf =
  (list: string) =>
  (index: number, previous: { next?: string | undefined } | null): readonly [string, string] | null =>
    index > 0 && previous?.next === undefined ? null : [list, previous?.next ?? ''];

/**
 * Its first page is asked for again whenever it is shown, also where nothing but pages of it are at hand: one whose
 * answer came after it was left may be old by then.
 */
export const askedAgain = { revalidateFirstPage: true, revalidateOnMount: true } as const;
