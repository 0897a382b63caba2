/** A message is made once, whatever is repeated: its number is the database's key. */
import { UniqueConstraintError } from 'sequelize';
import { Problem } from '../problem';

export interface MadeBefore<At = Date> {
  sentAt: At;
  already: true;
}

/**
 * Makes a message, or finds it made. `before` looks for an earlier try that said the same (and throws when it said
 * something else); two tries at
 * once meet at the key, and the second finds the first's message. @throws Problem `conflict`
 */
export async function once<At = Date>(
  before: () => Promise<MadeBefore<At> | undefined>,
  make: () => Promise<At>,
  what: string,
): Promise<{ sentAt: At; already: boolean }> {
  const earlier = await before();
  if (earlier !== undefined) return earlier;
  try {
    return { sentAt: await make(), already: false };
  } catch (error) {
    if (!(error instanceof UniqueConstraintError)) throw error;
    const other = await before();
    if (other === undefined) throw new Problem('conflict', 409, `One of the numbers in this ${what} is taken`);
    return other;
  }
}
