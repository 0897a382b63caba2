/** The tab's title: the page's name, and before it how much is unread. */
const parts = { page: '', unread: 0 };

function write(change: Partial<typeof parts>): void {
  Object.assign(parts, change);
  const name = parts.page === '' ? 'Under Lock' : `${parts.page} · Under Lock`;
  document.title = parts.unread === 0 ? name : `(${parts.unread}) ${name}`;
}

export const titlePage = (page: string): void => write({ page });
export const titleUnread = (unread: number): void => write({ unread });
