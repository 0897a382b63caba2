import { later } from '@under-lock/ui/later';

export default later(async () => (await import('../../../../src/office-book/DoublesScreen')).DoublesScreen);
