export { DraftsScreen as default } from '../../../src/message/MailScreen';
