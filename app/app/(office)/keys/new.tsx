export { NewKeyScreen as default } from '../../../src/keys/NewKeyScreen';
