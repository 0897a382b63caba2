export { IncomingMailScreen as default } from '../../../../src/received/IncomingMailScreen';
