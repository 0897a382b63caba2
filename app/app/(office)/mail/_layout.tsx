export { MailPlace as default } from '../../../src/mail/MailPlace';
