import type { ReactNode } from 'react'
import Svg from 'react-native-svg'

interface FigureProps {
  readonly width: number
  readonly height: number
  /** What it shows, for those who do not see it. */
  readonly words: string
  readonly children: ReactNode
}

/** A drawing as wide as its place, `width` units across, and always `height` high. */
export const Figure = ({ width, height, words, children }: FigureProps) => (
  <Svg width="100%" height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={words}>
    {children}
  </Svg>
)
