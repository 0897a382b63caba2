import './load-chunks';
import { AppRegistry } from 'react-native';
import { Pages } from './src/Pages';
import { chooseLanguage } from './src/words/words';

AppRegistry.registerComponent('room', () => Pages);

void chooseLanguage(navigator.languages).then(() => {
  AppRegistry.runApplication('room', { rootTag: document.getElementById('root') });
});
