export { LeftScreen as default } from '../../../../src/message/LeftScreen';
