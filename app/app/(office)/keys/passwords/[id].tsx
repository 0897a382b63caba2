export { EntryScreen as default } from '../../../../src/passwords/EntryScreen';
