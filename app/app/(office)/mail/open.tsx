export { OpenFileScreen as default } from '../../../src/received/OpenFileScreen';
