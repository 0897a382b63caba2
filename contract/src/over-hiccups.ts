/** A hiccup on the line is not worth anybody's attention; a longer one is. */
import { isProblem } from './problem';

const RETRIES = 3;
const FIRST_WAIT_MS = 400;

/** Does it again when the server could not be reached, a few times and each later than the one before. @throws ApiProblem */
export async function overHiccups<T>(act: () => Promise<T>): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await act();
    } catch (error) {
      if (!isProblem(error, 'unreachable') || tries >= RETRIES) throw error;
      await new Promise((done) => setTimeout(done, FIRST_WAIT_MS * 2 ** tries));
    }
  }
}
