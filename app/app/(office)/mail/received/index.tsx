export { ReceivedIndex as default } from '../../../../src/mail/MailPlace';
