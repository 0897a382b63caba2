export { MailScreen as default } from '../../../src/outside/OutsideScreens';
