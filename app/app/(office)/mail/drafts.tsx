export { DraftsScreen as default } from '../../../src/sent/MailScreen';
