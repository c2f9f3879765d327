/** The colours of both themes, by what they are for. `buoy` is live danger only: the one warm colour. */
export const palette = {
  light: {
    paper: '#F3F5F2',
    sheet: '#FFFFFF',
    ink: '#15262B',
    faint: '#566A6E',
    line: '#C9D3CF',
    mark: '#7E8E8B',
    tide: '#0E5E6F',
    onTide: '#FFFFFF',
    buoy: '#B83C0C',
    onBuoy: '#FFFFFF',
    pass: '#2B6A4D',
    fail: '#8E1538',
    aside: '#5A4E8C',
  },
  dark: {
    paper: '#10181B',
    sheet: '#172226',
    ink: '#E6EEEA',
    faint: '#93A7A8',
    line: '#2B3A3E',
    mark: '#6E8183',
    tide: '#6FC3CF',
    onTide: '#10181B',
    buoy: '#FF8A4C',
    onBuoy: '#10181B',
    pass: '#79C79C',
    fail: '#F0A6C0',
    aside: '#B3A6EC',
  },
} as const

export type ThemeName = keyof typeof palette
export type ColourName = keyof (typeof palette)['light']

const grounds = ['paper', 'sheet'] as const

/** Every pair of text on ground that the screens draw: at least 4.5 : 1. */
export const textPairs: readonly (readonly [ColourName, ColourName])[] = [
  ...(['ink', 'faint', 'tide', 'buoy', 'pass', 'fail', 'aside'] as const).flatMap((text) =>
    grounds.map((ground) => [text, ground] as const),
  ),
  ['onTide', 'tide'],
  ['onBuoy', 'buoy'],
]
/** Every pair of mark on ground that carries meaning: at least 3 : 1. */
export const markPairs: readonly (readonly [ColourName, ColourName])[] = grounds.map((ground) => ['mark', ground] as const)
