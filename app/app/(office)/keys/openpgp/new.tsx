export { NewOpenPgpScreen as default } from '../../../../src/keys/openpgp/NewOpenPgpScreen';
