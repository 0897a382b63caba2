export { MailboxScreen as default } from '../../../src/outside/MailboxScreen';
