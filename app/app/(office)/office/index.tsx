export { OfficeIndex as default } from '../../../src/office/OfficePlace';
