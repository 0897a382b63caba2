export { SetupScreen as default } from '../../../src/office/SetupScreen';
