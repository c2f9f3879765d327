import type { SheetPart } from '@taraf/contract'
import { memo, useMemo } from 'react'
import { G, Line, Path, Text as SvgText } from 'react-native-svg'
import { tracks } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { useColours } from '../../look/useColours'
import { Figure } from '../../parts/Figure'
import { Column, Words } from '../../parts/type'
import { channelRules, shareOf, type ChannelRule } from './channelRules'

const pitch = 42
const top = 16
const long = 128
const height = top + long + 48
const notch = 9
const perRow = 9
const movedUs = 60
const movedS = 0.4

const yOf = (us: number): number => top + long - shareOf(us) * long

/** The channels as upright rules, their gates and band edges cut as notches, and where each stands now. */
export const Channels = ({ sheet }: { sheet: SheetPart }) => {
  useFrames()
  const rules = useMemo(() => channelRules(sheet), [sheet])
  const rows = tracks.recent('radio', movedS)
  const now = rows[rows.length - 1]
  const before = rows[0]
  const lines: ChannelRule[][] = []
  for (let i = 0; i < rules.length; i += perRow) lines.push(rules.slice(i, i + perRow))
  return (
    <Column gap="$1">
      {lines.map((line) => (
        <Figure
          key={line[0]?.channel}
          width={Math.max(line.length, rules.length > perRow ? perRow : 6) * pitch}
          height={height}
          words={`Channels: ${line.map(({ channel, name }) => `${name} ${now === undefined ? 'not received' : `${(now[channel - 1] ?? 0).toFixed(0)} us`}`).join(', ')}`}
        >
          <Rules rules={line} />
          {line.map(({ channel }, i) => (
            <Cursor key={channel} x={(i + 0.5) * pitch} us={heard(now, channel)} from={before?.[channel - 1]} />
          ))}
        </Figure>
      ))}
      {now === undefined && <Words kind="small">The board sends its channels while a take runs.</Words>}
    </Column>
  )
}

/** A row of quality 0 is no frame. */
const heard = (row: readonly number[] | undefined, channel: number): number | null =>
  row === undefined || (row[16] ?? 1) <= 0 ? null : (row[channel - 1] ?? null)

/** What does not change: the rules with their notches and names. */
const Rules = memo(({ rules }: { rules: readonly ChannelRule[] }) => {
  const c = useColours()
  return (
    <G>
      {rules.map(({ channel, name, notches }, i) => {
        const x = (i + 0.5) * pitch
        return (
          <G key={channel}>
            <Path d={ruleOf(x, notches)} stroke={c.mark} strokeWidth={2} fill="none" />
            <Line x1={x - 4} y1={yOf(1500)} x2={x} y2={yOf(1500)} stroke={c.line} strokeWidth={2} />
            <SvgText x={x} y={top + long + 30} fontSize={11} fontFamily="Words" fill={c.ink} textAnchor="middle">
              {name}
            </SvgText>
            <SvgText x={x} y={top + long + 43} fontSize={10} fontFamily="Readings" fill={c.faint} textAnchor="middle">
              {`ch ${channel}`}
            </SvgText>
          </G>
        )
      })}
    </G>
  )
})
Rules.displayName = 'Rules'

/** An upright line with a notch cut to the left at each edge. */
const ruleOf = (x: number, notches: readonly number[]): string =>
  [...notches]
    .sort((a, b) => b - a)
    .reduce((path, us) => `${path}V${yOf(us) - 3}L${x - notch} ${yOf(us)}L${x} ${yOf(us) + 3}`, `M${x} ${top}`) + `V${top + long}`

const Cursor = ({ x, us, from }: { x: number; us: number | null; from: number | undefined }) => {
  const c = useColours()
  if (us === null) return null
  const moves = from !== undefined && Math.abs(us - from) > movedUs
  const y = yOf(us)
  return (
    <G>
      <Path d={`M${x + 2} ${y}l12 -6v12Z`} fill={moves ? c.tide : c.ink} />
      <SvgText x={x} y={top + long + 17} fontSize={11} fontFamily="Readings" fill={moves ? c.tide : c.ink} textAnchor="middle">
        {us.toFixed(0)}
      </SvgText>
    </G>
  )
}
