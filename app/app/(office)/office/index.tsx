export { OfficeScreen as default } from '../../../src/office/OfficeScreen';
