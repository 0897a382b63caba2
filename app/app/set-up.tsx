export { SetUpScreen as default } from '../src/session/SetUpScreen';
