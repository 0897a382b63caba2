/** How many connections each place or account has open, up to so many. */
export class Counts {
  private readonly open = new Map<string, number>();
  private readonly entered = new Map<string, string>();

  constructor(private readonly most: number) {}

  /** False where `whose` has as many as it may; a connection that is there already stays. */
  enter(connection: string, whose: string): boolean {
    if (this.entered.has(connection)) return true;
    const count = this.open.get(whose) ?? 0;
    if (count >= this.most) return false;
    this.open.set(whose, count + 1);
    this.entered.set(connection, whose);
    return true;
  }

  /** Nothing where it never entered, or has left. */
  leave(connection: string): void {
    const whose = this.entered.get(connection);
    if (whose === undefined) return;
    this.entered.delete(connection);
    const left = (this.open.get(whose) ?? 1) - 1;
    if (left === 0) this.open.delete(whose);
    else this.open.set(whose, left);
  }
}
