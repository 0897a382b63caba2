import './load-chunks';
import { AppRegistry } from 'react-native';
import { Pages } from './src/Pages';
import { chooseLanguage } from './src/words/words';

AppRegistry.registerComponent('room', () => Pages);

void chooseLanguage(navigator.languages).then(() => {
  const root = document.getElementById('root');
  root?.replaceChildren();
  AppRegistry.runApplication('room', { rootTag: root });
});
