export { PeoplePlace as default } from '../../../src/people/PeoplePlace';
