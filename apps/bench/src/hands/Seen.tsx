import type { HandsState } from '@taraf/contract'
import { Column, Reading, Row, Words } from '../parts/type'
import { fixed } from '../parts/fixed'

const held = { plate: 'on the plate', hand: 'held in the hand', stand: 'on the stand', out: 'out in the open' } as const

/** Where the airframe is, in words. */
export const poseWords = ({ held: where, way, moving }: HandsState): string =>
  `${held[where]}${where === 'plate' ? `, nose ${way === 'forward' ? 'away' : 'to you'}` : ''}${moving ? ', moving' : ''}`

/** What a person at the bench sees, hears and feels. */
export const Seen = ({ hands }: { hands: HandsState }) => (
  <Column gap="$1">
    <Line what="it is" value={poseWords(hands)} />
    <Line what="bubble" value={`${fixed(hands.bubbleDeg.roll, 1)} right, ${fixed(hands.bubbleDeg.pitch, 1)} nose up, deg`} />
    <Line what="lights" value={hands.lights} />
    <Line what="tone" value={hands.tone} />
    <Line what="picture" value={hands.picture} />
    <Line what="props" value={`${hands.props}, nuts ${hands.nuts ? 'on' : 'off'}`} />
    {hands.antenna !== null && <Line what="position antenna" value={offsetWords(hands.antenna)} />}
    {hands.motors.map(({ output, position, turn, speed, heatC, sound }) => (
      <Line
        key={output}
        what={position}
        value={`${turn === 'still' ? 'flag still' : `flag ${turn}, ${speed}`}, ${sound === 'quiet' ? '' : `${sound}, `}${heatC.toFixed(0)} C`}
      />
    ))}
    {hands.incidents > 0 && <Line what="incidents" value={`${hands.incidents} turns with props on`} />}
  </Column>
)

/** As a rule held against it reads. */
const offsetWords = ({ forwardM, rightM, downM }: NonNullable<HandsState['antenna']>): string =>
  `${Math.round(forwardM * 1000)} mm ahead, ${Math.round(rightM * 1000)} right, ${Math.round(-downM * 1000)} up`

const Line = ({ what, value }: { what: string; value: string }) => (
  <Row gap="$2" alignItems="flex-start">
    <Words kind="small" width={84}>
      {what}
    </Words>
    <Reading size="small" flex={1}>
      {value}
    </Reading>
  </Row>
)
