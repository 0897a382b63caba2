export { SentScreen as default } from '../../../src/sent/MailScreen';
