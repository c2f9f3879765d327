import type { JobView } from '@taraf/contract'
import { drivenPositions } from '@taraf/core/motors'
import { View } from '@tamagui/core'
import { tracks } from '../live/feed'
import { useFrames } from '../live/useFrames'
import { useBoardSettings } from '../stations/motors/usePropPlan'
import { Column, Reading, Row, Words } from './type'

/** What the board asks of each position now, by its own map of outputs. */
export const OutputBars = ({ job }: { job: JobView }) => {
  useFrames()
  const settings = useBoardSettings(job)
  const now = tracks.rows('outputs').at(-1)
  return (
    <Column gap="$1">
      {drivenPositions(job.sheet, settings).map(({ name, output }) => {
        const share = now?.[output - 1]
        return (
          <Row key={name} alignItems="center">
            <Words flex={1}>{name}</Words>
            <View flex={1} height={14} borderWidth={1} borderColor="$line" role="presentation">
              <View height={12} width={`${Math.min(100, 100 * (share ?? 0))}%`} backgroundColor="$tide" />
            </View>
            <Reading width={64} textAlign="right">
              {share === undefined ? '–' : `${(100 * share).toFixed(0)} %`}
            </Reading>
          </Row>
        )
      })}
      <Words kind="small">
        {now === undefined ? 'The board tells this while it is armed. ' : ''}The bars are what it asks of each position, by its
        own map of outputs.
      </Words>
    </Column>
  )
}
