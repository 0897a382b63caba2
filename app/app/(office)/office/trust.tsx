export { TrustScreen as default } from '../../../src/office/TrustScreen';
