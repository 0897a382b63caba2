export { KeysIndex as default } from '../../../src/keys/KeysPlace';
