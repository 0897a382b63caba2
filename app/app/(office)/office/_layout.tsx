export { OfficePlace as default } from '../../../src/office/OfficePlace';
