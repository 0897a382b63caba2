import './load-chunks';
import { AppRegistry } from 'react-native';
import { Pages } from './src/Pages';
import { wantedLanguages } from './src/spoken';
import { chooseLanguage } from './src/words/words';

AppRegistry.registerComponent('room', () => Pages);

void chooseLanguage(wantedLanguages()).then(() => {
  AppRegistry.runApplication('room', { rootTag: document.getElementById('root') });
});
