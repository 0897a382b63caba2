/** Before the server's tests: its threads are programs of their own, which have to be built. */
export default async function build() {
  const { buildServer } = await import('./ground/build.mjs');
  await buildServer();
}
