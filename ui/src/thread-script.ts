/**
 * The address of a thread's script: the page says them (scripts/ground/build.mjs), since each is named by what is in it.
 *
 * @throws Error when the page knows no such thread
 */
export function threadScript(name: string): string {
  const said: unknown = JSON.parse(document.getElementById('threads')?.textContent ?? '{}');
  const address = (said as Record<string, unknown>)[name];
  if (typeof address !== 'string') throw new Error(`This page knows no thread “${name}”`);
  return address;
}
