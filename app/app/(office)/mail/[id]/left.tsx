export { LeftScreen as default } from '../../../../src/sent/LeftScreen';
