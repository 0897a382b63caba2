import { lazy } from 'react';

export default lazy(async () => ({ default: (await import('../../../src/office/OfficePlace')).OfficeIndex }));
