export { MessageScreen as default } from '../../../../src/message/MessageScreen';
