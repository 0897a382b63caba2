export { ImportScreen as default } from '../../../src/keys/ImportScreen';
