/** For tests in which the server stretches a password, too: imported first, they stretch it as browsers do. */
jest.unmock('hash-wasm');

export {};
