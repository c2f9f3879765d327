import { directionPatches } from '@taraf/core'
import { memo } from 'react'
import { Circle, Path, Rect } from 'react-native-svg'
import { Figure } from '../../parts/Figure'
import { useColours } from '../../look/useColours'

const [width, height, edge] = [320, 178, 8]
const largest = 0.2
const radius = 7

/** Lambert's cylindrical map: what strays in each patch of direction, as a share, drawn by size and by full or hollow. */
export const DeviationMap = memo(({ deviations }: { deviations: Float64Array }) => {
  const c = useColours()
  const x = (longitude: number) => edge + (longitude / (2 * Math.PI)) * (width - 2 * edge)
  const y = (z: number) => edge + ((1 - z) / 2) * (height - 2 * edge)
  const worst = deviations.reduce((most, d) => (Number.isNaN(d) ? most : Math.max(most, Math.abs(d))), 0)
  return (
    <Figure width={width} height={height} words={`the field strays by at most ${(100 * worst).toFixed(1)} % in any direction`}>
      <Rect x={edge} y={edge} width={width - 2 * edge} height={height - 2 * edge} fill="none" stroke={c.mark} strokeWidth={1} />
      {directionPatches.map(({ high, low, from, to }, i) => {
        const strays = deviations[i] as number
        const [cx, cy] = [x((from + to) / 2), y((high + low) / 2)]
        if (Number.isNaN(strays)) return <Path key={i} d={`M${cx - 2} ${cy} h4`} stroke={c.line} strokeWidth={1} />
        const r = Math.max(0.6, radius * Math.sqrt(Math.min(1, Math.abs(strays) / largest)))
        return <Circle key={i} cx={cx} cy={cy} r={r} fill={strays > 0 ? c.ink : 'none'} stroke={c.ink} strokeWidth={0.8} />
      })}
    </Figure>
  )
})
DeviationMap.displayName = 'DeviationMap'
