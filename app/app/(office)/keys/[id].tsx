export { KeyScreen as default } from '../../../src/keys/KeyScreen';
