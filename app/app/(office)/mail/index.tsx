export { SentIndex as default } from '../../../src/mail/MailPlace';
