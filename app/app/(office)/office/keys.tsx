export { KeyTrustScreen as default } from '../../../src/office/KeyTrustScreen';
