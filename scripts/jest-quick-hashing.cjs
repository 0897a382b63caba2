/**
 * The server's tests make dozens of accounts, and each password would be stretched for half a second: here it is
 * stretched the same way and less. What browsers really use is tested in core/test/account.test.ts.
 */
jest.mock('hash-wasm', () => {
  const whole = jest.requireActual('hash-wasm');
  return { ...whole, argon2id: (input) => whole.argon2id({ ...input, iterations: 1, memorySize: 1024 }) };
});
