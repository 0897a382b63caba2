export { ReceivedMessageScreen as default } from '../../../../src/received/ReceivedMessageScreen';
