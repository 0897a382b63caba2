export { OutsideScreen as default } from '../../src/outside/OutsideScreen';
