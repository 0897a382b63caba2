export { OpenPgpKeyScreen as default } from '../../../../src/keys/openpgp/OpenPgpKeyScreen';
