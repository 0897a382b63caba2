export { SentScreen as default } from '../../../src/message/MailScreen';
