/** An access as a list shows it, whoever's list it is. */
export interface ListedRow {
  id: string;
  sender_name: string;
  sender_address: string;
  arrived_at: Date;
  closes_at: Date;
  ended_at: Date | null;
  state: 'held' | 'closed' | 'withdrawn';
  size: string;
  unread: boolean;
  reference: string;
  sealed_share: Buffer | null;
  sealed_summary: Buffer | null;
}

/** One whose date has passed is closed, also before that is written down; and then nothing of it is handed out. */
export function listed(row: ListedRow, now: Date) {
  const overdue = row.state === 'held' && row.closes_at <= now;
  const endedAt = overdue ? row.closes_at : row.ended_at;
  return {
    grantId: row.id,
    from: { name: row.sender_name, address: row.sender_address },
    arrivedAt: row.arrived_at,
    closesAt: row.closes_at,
    state: overdue ? ('closed' as const) : row.state,
    ...(endedAt === null ? {} : { endedAt }),
    size: Number(row.size),
    unread: row.unread,
    reference: row.reference,
    ...(overdue || row.sealed_share === null || row.sealed_summary === null
      ? {}
      : { sealed: { share: new Uint8Array(row.sealed_share), summary: new Uint8Array(row.sealed_summary) } }),
  };
}
