import './load-chunks';
import { AppRegistry } from 'react-native';
import { RoomPage } from './src/RoomPage';
import { chooseLanguage } from './src/words/words';

AppRegistry.registerComponent('room', () => RoomPage);

void chooseLanguage(navigator.languages).then(() => {
  const root = document.getElementById('root');
  root?.replaceChildren();
  AppRegistry.runApplication('room', { rootTag: root });
});
