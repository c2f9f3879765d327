import { teachWords } from '@taraf/core'
import { AskLine } from '../../parts/AskLine'
import { Column, Words } from '../../parts/type'
import { useTakeAtStep } from '../../store/takeInHand'

/** What is sent and done while a range is taught, in its order, each line before it comes; then each output by itself. */
export const RangeLive = () => {
  const take = useTakeAtStep('escs.range')
  const want = take?.want ?? null
  const isTaught = want?.kind === 'turn' || want?.label === 'props'
  const now =
    take?.phase === 'capturing' ? Object.values(teachWords).indexOf(take.guide?.words as (typeof teachWords)['high']) : -1
  return (
    <Column gap="$3">
      <AskLine words={want?.ask} />
      <Column gap="$2" role="list" aria-label="How the range is taught">
        {script.map((line, i) => (
          <Words
            key={line}
            role="listitem"
            kind={i === now ? 'strong' : undefined}
            color={i === now ? '$ink' : '$faint'}
            aria-current={i === now ? 'step' : undefined}
          >
            {isTaught || i < now ? '✓' : `${i + 1}`} {line}
          </Words>
        ))}
      </Column>
      <Words kind="small">
        ESCs learn at the moment in which the battery goes in. Nothing turns meanwhile: whatever else comes ends it at once, and
        then nothing is proved. What they learned is measured by how fast each motor turns at two commands.
      </Words>
    </Column>
  )
}
const script = [
  'High on every output. The battery goes in.',
  'Still high for three seconds: the upper end.',
  'Low for two seconds: the lower end.',
] as const
