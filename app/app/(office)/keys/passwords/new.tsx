export { NewEntryScreen as default } from '../../../../src/passwords/NewEntryScreen';
