export { ReadersScreen as default } from '../../../src/desk/ReadersScreen';
