export { FileRulesScreen as default } from '../../../src/office/FileRulesScreen';
