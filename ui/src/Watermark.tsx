/** Words over everything below, so that a photo of the screen says whose it was. */
import { StyleSheet, View } from 'react-native';
import { schemes } from './tokens';

const escapeXml = (text: string): string => text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);

/** A picture does not see the page's colours, only what the device prefers. */
const INK = `<style>text{fill:${schemes.light.ink}}@media(prefers-color-scheme:dark){text{fill:${schemes.dark.ink}}}</style>`;

/** Fills its nearest positioned ancestor; takes no touch and is not read out. */
export function Watermark({ lines }: { lines: readonly string[] }) {
  const text = lines
    .map(
      (line, index) =>
        `<text x="10" y="${120 + index * 20}" transform="rotate(-24 160 120)" font-family="sans-serif" font-size="15" fill-opacity="0.13">${escapeXml(line)}</text>`,
    )
    .join('');
  const tile = `<svg xmlns="http://www.w3.org/2000/svg" width="340" height="220">${INK}${text}</svg>`;
  return (
    <View
      aria-hidden
      testID="watermark"
      style={[styles.over, { backgroundImage: `url("data:image/svg+xml,${encodeURIComponent(tile)}")` } as object]}
    />
  );
}

const styles = StyleSheet.create({
  over: { position: 'absolute', top: 0, right: 0, bottom: 0, left: 0, pointerEvents: 'none', zIndex: 5 },
});
