export { ReceivedScreen as default } from '../../../../src/received/ReceivedScreen';
