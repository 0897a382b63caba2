/** The line in the list. Imported before anything that reads it. */
jest.mock('@under-lock/core/locks/list', () => {
  const { lockKinds } = jest.requireActual<{ lockKinds: readonly unknown[] }>('@under-lock/core/locks/list');
  const { knotLock } = jest.requireActual<{ knotLock: unknown }>('./index');
  return { lockKinds: [...lockKinds, knotLock] };
});

export {};
