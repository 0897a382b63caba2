export { KeysPlace as default } from '../../../src/keys/KeysPlace';
