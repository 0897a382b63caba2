export { PeopleScreen as default } from '../../../src/people/PeopleScreen';
