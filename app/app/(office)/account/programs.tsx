import { later } from '@under-lock/ui/later';

export default later(async () => (await import('../../../src/programs/ProgramsScreen')).ProgramsScreen);
