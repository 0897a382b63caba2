/** Run by the build: pages drawn without a browser, with the style sheet that goes with them. */
import { type ComponentType } from 'react';
import { AppRegistry } from 'react-native';

export interface Drawn {
  element: React.ReactElement;
  getStyleElement: () => React.ReactElement<{ id: string; dangerouslySetInnerHTML: { __html: string } }>;
}
// React Native Web's own, which React Native's types do not know.
const { getApplication } = AppRegistry as unknown as { getApplication(name: string, given: object): Drawn };

export function drawn(Page: ComponentType): Drawn {
  AppRegistry.registerComponent('drawn', () => Page);
  return getApplication('drawn', {});
}
