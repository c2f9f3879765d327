import { fromDegrees, type Angles, type Rotation } from '@taraf/core/rotation'
import { G, Line, Path, Rect, Text as SvgText } from 'react-native-svg'
import { Figure } from './Figure'
import { useColours } from '../look/useColours'
import { boardView, type Point } from './boardView'

interface MountingFigureProps {
  /** How the board sits, as it was measured, degrees. */
  readonly found: Angles
  /** What the board is told, where that differs. */
  readonly told?: Angles
}

const [width, height] = [320, 170]
const path = (points: readonly Point[]): string => `M${points.map(([x, y]) => `${x} ${y}`).join(' L')} Z`

/** The board as it sits in the airframe, in plan and from the right; what it is told wrongly, in outline. */
export const MountingFigure = ({ found, told }: MountingFigureProps) => {
  const c = useColours()
  const differs = told !== undefined && (told.roll !== found.roll || told.pitch !== found.pitch || told.yaw !== found.yaw)
  const words = ({ roll, pitch, yaw }: Angles) => `roll ${roll}, pitch ${pitch}, yaw ${yaw}`
  return (
    <Figure width={width} height={height} words={`The board sits ${words(found)}${differs ? `; it is told ${words(told)}` : ''}`}>
      {(['above', 'right'] as const).map((from, i) => (
        <G key={from} x={i === 0 ? 80 : 240} y={74}>
          {from === 'above' ? (
            <>
              <Rect x={-34} y={-52} width={68} height={104} rx={6} fill="none" stroke={c.mark} strokeWidth={1} />
              <Path d="M0 -68 l5 10 h-10 Z" fill={c.tide} />
            </>
          ) : (
            <>
              <Rect x={-52} y={-14} width={104} height={40} rx={6} fill="none" stroke={c.mark} strokeWidth={1} />
              <Path d="M68 6 l-10 5 v-10 Z" fill={c.tide} />
            </>
          )}
          {differs && <Board toBody={fromDegrees(told)} from={from} ink={c.faint} fill="none" dashed />}
          <Board toBody={fromDegrees(found)} from={from} ink={c.ink} fill={c.sheet} dashed={false} />
          <Line x1={0} y1={-3} x2={0} y2={3} stroke={c.line} strokeWidth={1} />
          <SvgText x={0} y={height - 84} fontSize={11} fontFamily="Words" fill={c.faint} textAnchor="middle">
            {from === 'above' ? 'from above' : 'from its right side'}
          </SvgText>
        </G>
      ))}
    </Figure>
  )
}

interface BoardProps {
  readonly toBody: Rotation
  readonly from: 'above' | 'right'
  readonly ink: string
  readonly fill: string
  readonly dashed: boolean
}
const Board = ({ toBody, from, ink, fill, dashed }: BoardProps) => {
  const { faces, arrow, arrowSeen } = boardView(toBody, from)
  const dash = dashed ? { strokeDasharray: '4 3' } : {}
  return (
    <G>
      {faces.map((face, i) => (
        <Path key={i} d={path(face)} fill={fill} stroke={ink} strokeWidth={1.5} {...dash} />
      ))}
      <Path
        d={path(arrow)}
        fill={arrowSeen && !dashed ? ink : 'none'}
        stroke={ink}
        strokeWidth={1.2}
        {...(arrowSeen ? dash : { strokeDasharray: '2 2' })}
      />
    </G>
  )
}
