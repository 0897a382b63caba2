export { KeysScreen as default } from '../../../src/keys/KeysScreen';
