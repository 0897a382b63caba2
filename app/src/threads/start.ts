/** The threads of the office's pages. */
import { type Remote, wrap } from 'comlink';
import './errors';
import { threadScript } from '@under-lock/ui/thread-script';
import { Watched } from '../watched';

/** Whether a thread's script could not be had: whoever asked that thread would wait for ever, so the page says it. */
export const threadLost = new Watched(false);

const MODULES = new Set(['main', 'keys', 'search', 'scan']);

/** @param onLost Called when its script can't be had: the next to ask may begin anew. */
export function startThread(
  name: 'main' | 'keys' | 'search' | 'scan' | 'statement',
  onLost: () => void = () => undefined,
): Worker {
  const thread = new Worker(threadScript(name), { type: MODULES.has(name) ? 'module' : 'classic' });
  // What goes wrong inside of one reaches whoever asked, and its event says what; one without words is the script's.
  thread.addEventListener('error', (event) => {
    if (event instanceof ErrorEvent) return;
    threadLost.set(true);
    onLost();
  });
  return thread;
}

/** The way to a thread that is started when it is first asked. */
export function doorTo<Door>(name: Parameters<typeof startThread>[0]): () => Remote<Door> {
  let remote: Remote<Door> | undefined;
  return () => (remote ??= wrap<Door>(startThread(name, () => (remote = undefined))));
}
