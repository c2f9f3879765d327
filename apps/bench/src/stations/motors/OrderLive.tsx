import type { JobView } from '@taraf/contract'
import { outputsOf } from '@taraf/core'
import { AskLine } from '../../parts/AskLine'
import { MotorPad } from '../../parts/MotorPad'
import { Plan } from '../../parts/Plan'
import { Column, Reading, Row, Words } from '../../parts/type'
import { useNextSegmentMutation } from '../../store/jobs'
import { useTakeAtStep } from '../../store/takeInHand'

/** The output in hand, large, and the plan to tap; before a take, what the sheet has at each output. */
export const OrderLive = ({ job }: { job: JobView }) => {
  const take = useTakeAtStep('motors.order')
  const [next, going] = useNextSegmentMutation()
  const want = take?.want ?? null
  const { geometry } = job.sheet
  if (want === null) return <Wiring job={job} />
  const output = want.kind === 'turn' && want.outputs.length === 1 ? want.outputs[0]?.output : undefined
  return (
    <Column gap="$3">
      {output !== undefined && (
        <Row alignItems="baseline">
          <Reading size="decides">{output}</Reading>
          <Words kind="faint">is the output that turns, of {outputsOf(job.sheet).length}</Words>
        </Row>
      )}
      <AskLine words={want.ask} />
      {want.kind === 'turn' && want.says === 'motor' && (
        <MotorPad
          key={want.label}
          geometry={geometry}
          said={take?.said === true}
          off={going.isLoading}
          onSay={(seen) => void next({ job: job.id, ...seen })}
        />
      )}
    </Column>
  )
}

const Wiring = ({ job: { sheet } }: { job: JobView }) => (
  <Column gap="$2">
    <Words kind="small">
      Wanted by sheet {sheet.type} version {sheet.version}
    </Words>
    <Plan geometry={sheet.geometry} size={180} />
    {sheet.geometry.booms.flatMap(({ name, motors }) =>
      motors.map(({ tier, output, turn }) => (
        <Row key={`${name} ${tier}`} justifyContent="space-between" borderBottomWidth={1} borderColor="$line">
          <Words>
            {name}
            {tier === 'only' ? '' : ` ${tier}`}
          </Words>
          <Reading>
            output {output}, {turn}
          </Reading>
        </Row>
      )),
    )}
  </Column>
)
