import { later } from '@under-lock/ui/later';

export default later(async () => (await import('../../src/account/AccountScreen')).AccountScreen);
