import type { JobView, Remedy, TransmitterSetting } from '@taraf/contract'
import { transmitterSettingName, transmitterSettingsOf, transmitterValue } from '@taraf/core'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { ProblemNotice } from '../parts/Notice'
import { NumberField } from '../parts/NumberField'
import { Column, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useRecordChangeMutation } from '../store/jobs'
import { useTransmitterOf } from '../store/transmitters'

interface SetProps {
  readonly job: JobView
  readonly seq: number
  readonly remedy: Extract<Remedy, { by: 'transmitter' }>
}

/** Settings that are numbers on a transmitter's own screen; the others are told by their words. */
const typed: readonly TransmitterSetting['name'][] = ['travelLow', 'travelHigh', 'subTrim', 'trim']

/** What a remedy sets on the transmitter, to be typed in there: each with what it was, and what it is once that is done. */
export const SetOnTransmitter = ({ job, seq, remedy }: SetProps) => {
  const known = useTransmitterOf(job)
  const [record, recording] = useRecordChangeMutation()
  const [changed, setChanged] = useState<Readonly<Record<string, number | undefined>>>({})
  const own = known?.own === true ? known.card : null
  const wanted = transmitterSettingsOf(
    remedy.transmitter,
    (channel, name) => remedy.was?.[name] ?? own?.set.find((one) => one.channel === channel && one.name === name)?.to ?? null,
  )
  const keyOf = (one: TransmitterSetting, side: 'from' | 'to') => `${one.channel} ${one.name} ${side}`
  const valueOf = (one: TransmitterSetting, side: 'from' | 'to') =>
    keyOf(one, side) in changed ? changed[keyOf(one, side)] : (one[side] ?? undefined)
  const set = wanted.map((one) => ({ ...one, from: valueOf(one, 'from') ?? null, to: valueOf(one, 'to') ?? one.to }))
  const isWhole = wanted.every((one) => valueOf(one, 'to') !== undefined)
  const submit = () =>
    void record({
      job: job.id,
      change: {
        what: 'transmitter',
        words: remedy.act.slice(0, 400),
        set,
        ...(own === null ? {} : { transmitter: own.transmitter, model: own.model }),
      },
      cause: `Remedy of take ${seq}.`,
    })
  return (
    <Column gap="$2" role="group" aria-label="Set on the transmitter">
      {wanted.map((one) => (
        <Row key={`${one.channel} ${one.name}`} flexWrap="wrap" alignItems="flex-end">
          <Words flexGrow={1} flexBasis={130}>
            {transmitterSettingName(one)}
            {typed.includes(one.name) ? '' : `: ${transmitterValue(one.name, one.to)}`}
          </Words>
          {typed.includes(one.name) &&
            (['from', 'to'] as const).map((side) => (
              <NumberField
                key={side}
                label={side === 'from' ? 'was' : 'is now'}
                value={valueOf(one, side)}
                onChange={(value) => setChanged((now) => ({ ...now, [keyOf(one, side)]: value }))}
              />
            ))}
        </Row>
      ))}
      <Act
        label={recording.isLoading ? 'Recording …' : 'Done on the transmitter: record it'}
        off={recording.isLoading || !isWhole}
        onPress={submit}
      />
      <ProblemNotice problem={problemOf(recording.error)} />
    </Column>
  )
}
