export { RecoverScreen as default } from '../src/session/RecoverScreen';
