import { later } from '../../../src/shell/later';

export default later(async () => (await import('../../../src/people/PeoplePlace')).PeopleIndex);
