export { DraftIndex as default } from '../../../src/mail/MailPlace';
