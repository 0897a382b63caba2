/** Reading what came in was stopped at its deadline. */
export class TookTooLongError extends Error {
  constructor() {
    super('took-too-long');
    this.name = 'TookTooLongError';
  }
}
