import { createFont, createTamagui, createTokens } from '@tamagui/core'
import { palette } from './palette'

const steps = { 0: 0, 1: 4, 2: 8, 3: 12, 4: 16, 5: 20, 6: 24, 8: 32, 10: 40, 12: 48, 16: 64, true: 16 }

const words = createFont({
  family: 'Words, system-ui, sans-serif',
  size: { 1: 13, 2: 15, 3: 17, 4: 20, 5: 26, 6: 34, true: 15 },
  lineHeight: { 1: 18, 2: 22, 3: 24, 4: 26, 5: 32, 6: 40, true: 22 },
  weight: { 1: '400', true: '400' },
  letterSpacing: { 1: 0, true: 0 },
})
const readings = createFont({
  family: 'Readings, system-ui, sans-serif',
  size: { 1: 13, 2: 15, 3: 17, 4: 22, 5: 30, 6: 44, true: 15 },
  lineHeight: { 1: 18, 2: 22, 3: 24, 4: 28, 5: 36, 6: 50, true: 22 },
  weight: { 1: '400', true: '400' },
  letterSpacing: { 1: 0, true: 0 },
})

export const config = createTamagui({
  tokens: createTokens({
    size: steps,
    space: steps,
    radius: { 0: 0, 1: 2, 2: 4, true: 2 },
    zIndex: { 0: 0, 1: 10, 2: 20 },
    color: {},
  }),
  themes: palette,
  fonts: { body: words, readings },
  media: { wide: { minWidth: 1024 } },
  settings: { defaultFont: 'body', styleCompat: 'react-native' },
})

export type AppConfig = typeof config
declare module '@tamagui/core' {
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type -- how Tamagui takes its types
  interface TamaguiCustomConfig extends AppConfig {}
}
