export { BookIndex as default } from '../../../../src/passwords/BookList';
