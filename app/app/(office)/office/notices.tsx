export { NoticesScreen as default } from '../../../src/office/NoticesScreen';
