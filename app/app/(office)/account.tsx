export { AccountScreen as default } from '../../src/session/AccountScreen';
