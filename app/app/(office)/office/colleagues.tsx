export { ColleaguesScreen as default } from '../../../src/office/ColleaguesScreen';
