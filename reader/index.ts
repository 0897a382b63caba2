import './load-chunks';
import { AppRegistry } from 'react-native';
import { RoomPage } from './src/RoomPage';

AppRegistry.registerComponent('room', () => RoomPage);
const root = document.getElementById('root');
root?.replaceChildren();
AppRegistry.runApplication('room', { rootTag: root });
