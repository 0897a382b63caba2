import { lazy } from 'react';

export default lazy(async () => ({ default: (await import('../../../src/people/PeoplePlace')).PeopleIndex }));
