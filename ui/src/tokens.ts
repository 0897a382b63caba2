/**
 * The look in numbers, by day and by night: the device says which. Contrast beside each colour is on ground and on paper
 * (WCAG 2.2 wants 4.5 for text, 3 for the border of a control).
 */
export const schemes = {
  light: {
    ground: '#F4EFE6',
    paper: '#FFFDF8',
    ink: '#1B2421', // 13.9 on ground, 15.6 on paper
    soft: '#53605A', // 5.8 / 6.5
    line: '#D8D0C0',
    edge: '#8A8370', // 3.1 on ground: the border of a control must be seen
    sea: '#0E5A4C', // 7.1 / 8.0
    onSea: '#FFFFFF', // 8.1 on sea
    paleSea: '#DDEBE4',
    amber: '#7A4E00',
    paleAmber: '#F8E8C8', // amber on it 6.0
    brick: '#952B1E',
    paleBrick: '#F7DFD9', // brick on it 6.2
    quiet: '#E9E2D4',
    veil: '#1B242180',
  },
  dark: {
    ground: '#121816',
    paper: '#1B2320',
    ink: '#EDE8DE', // 14.7 / 13.1
    soft: '#AEB8B1', // 8.8 / 7.8
    line: '#39433E',
    edge: '#7F8B84', // 5.0 / 4.5
    sea: '#7DCBB5', // 9.4 / 8.4
    onSea: '#0B231D', // 8.7 on sea
    paleSea: '#1F3A33', // sea on it 6.3
    amber: '#E9BA66',
    paleAmber: '#3B2F17', // amber on it 7.3
    brick: '#F39C8F',
    paleBrick: '#45241F', // brick on it 6.5
    quiet: '#28312D',
    veil: '#000000A0',
  },
} as const;
export type ColourName = keyof typeof schemes.light;

/** By name: which scheme is meant is decided where it is drawn. */
export const colour = {
  ...(Object.fromEntries(Object.keys(schemes.light).map((name) => [name, `var(--${name})`])) as Record<
    ColourName,
    string
  >),
  /** White in every light: on a colour that is the office's own, under a page of paper. */
  white: '#FFFFFF',
  /** What was found on a page of paper, and which of it is looked at. */
  found: schemes.light.paleAmber,
  foundNow: '#F5B942',
  foundEdge: schemes.light.amber,
};

/** A 4-px rhythm. */
export const space = { hair: 2, xs: 4, s: 8, m: 12, l: 16, xl: 24, xxl: 32, touch: 44 } as const;
export const radius = { s: 2, m: 4 } as const;
export const border = { hair: 1, strong: 2, bar: 4 } as const;

export const font = {
  sans: '"Atkinson Hyperlegible Next", "Noto Sans Arabic", system-ui, sans-serif',
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
export const measure = { column: 720, paper: 860, form: 440, side: 400, rail: 108 } as const;
