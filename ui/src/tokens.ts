/** The look in numbers. Contrast on its ground stands beside each colour (WCAG 2.2 wants 4.5). */
export const colour = {
  ground: '#F4EFE6',
  paper: '#FFFDF8',
  ink: '#1B2421', // 13.9 on ground, 15.6 on paper
  soft: '#53605A', // 5.8 / 6.5
  line: '#D8D0C0',
  edge: '#8A8370', // 3.1 on ground: the border of a control must be seen
  sea: '#0E5A4C', // 7.1 / 8.0, white on it 8.1
  paleSea: '#DDEBE4',
  amber: '#7A4E00',
  paleAmber: '#F8E8C8', // amber on it 6.0
  brick: '#952B1E',
  paleBrick: '#F7DFD9', // brick on it 6.2
  quiet: '#E9E2D4',
  white: '#FFFFFF',
} as const;

/** A 4-px rhythm. */
export const space = { hair: 2, xs: 4, s: 8, m: 12, l: 16, xl: 24, xxl: 32, touch: 44 } as const;
export const radius = { s: 2, m: 4 } as const;
export const border = { hair: 1, strong: 2, bar: 4 } as const;

export const font = {
  sans: '"Atkinson Hyperlegible Next", system-ui, sans-serif',
  mono: '"Atkinson Hyperlegible Mono", ui-monospace, monospace',
} as const;

export const type = {
  title: { fontFamily: font.sans, fontSize: 26, lineHeight: 32, fontWeight: '700' },
  heading: { fontFamily: font.sans, fontSize: 18, lineHeight: 24, fontWeight: '700' },
  strong: { fontFamily: font.sans, fontSize: 16, lineHeight: 24, fontWeight: '600' },
  body: { fontFamily: font.sans, fontSize: 16, lineHeight: 24, fontWeight: '400' },
  small: { fontFamily: font.sans, fontSize: 14, lineHeight: 20, fontWeight: '400' },
  label: { fontFamily: font.sans, fontSize: 14, lineHeight: 20, fontWeight: '600' },
  mono: { fontFamily: font.mono, fontSize: 16, lineHeight: 24, fontWeight: '400' },
} as const;

/** From here on, two columns where comparing helps. */
export const WIDE = 900;
export const measure = { column: 720, form: 440, side: 400, rail: 108 } as const;
