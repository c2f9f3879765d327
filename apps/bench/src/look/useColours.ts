import { useThemeName } from '@tamagui/core'
import { palette, type ColourName } from './palette'

/** The colours in force, for what is drawn as SVG. */
export const useColours = (): Record<ColourName, string> => palette[useThemeName().startsWith('dark') ? 'dark' : 'light']
