export { MessageScreen as default } from '../../../../src/sent/MessageScreen';
