import './load-chunks';
import { keepPressesSteady } from '@under-lock/ui/steady-presses';
import { AppRegistry } from 'react-native';
import { Pages } from './src/Pages';
import { wantedLanguages } from './src/spoken';
import { chooseLanguage } from './src/words/words';

keepPressesSteady();
AppRegistry.registerComponent('room', () => Pages);

void chooseLanguage(wantedLanguages()).then(() => {
  AppRegistry.runApplication('room', { rootTag: document.getElementById('root') });
});
