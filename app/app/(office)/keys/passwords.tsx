export { BookScreen as default } from '../../../src/passwords/BookScreen';
