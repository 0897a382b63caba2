export { OutsideMailScreen as default } from '../../../src/outside/OutsideMailScreen';
