export { DeskScreen as default } from '../../src/desk/DeskScreen';
