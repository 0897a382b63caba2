/** Octets of mail on its way in: a bound for the whole door, whoever they come from. */
export class Budget {
  private taken = 0;

  constructor(private readonly most: number) {}

  /** False when there is no room: whoever asks is to come again. */
  take(bytes: number): boolean {
    if (this.taken + bytes > this.most) return false;
    this.taken += bytes;
    return true;
  }

  giveBack(bytes: number): void {
    this.taken -= bytes;
  }
}
