export { PeopleIndex as default } from '../../../src/people/PeoplePlace';
