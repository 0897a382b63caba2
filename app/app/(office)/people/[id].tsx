export { PersonScreen as default } from '../../../src/people/PersonScreen';
