import type { Sheet } from '@taraf/contract'
import { limits as allLimits, type LimitName } from '@taraf/core'
import { limitReasons } from '@taraf/core/limitReasons'
import { useState } from 'react'
import { Act } from '../../parts/Act'
import { Choices } from '../../parts/Choices'
import { BesideFields, Field } from '../../parts/Field'
import { NumberField } from '../../parts/NumberField'
import { Column, Paper, Row, Words } from '../../parts/type'
import type { PartProps } from './partProps'

export const Limits = ({ sheet, set }: PartProps) => {
  const { limits } = sheet
  const left = Object.keys(allLimits).filter((name) => !(name in limits))
  const put = (name: string, limit: Sheet['limits'][string] | null) => {
    const { [name]: _, ...rest } = limits
    set({ limits: limit === null ? rest : { ...limits, [name]: limit } })
  }
  const [adding, setAdding] = useState(false)
  return (
    <Paper role="group" aria-label="Own limits">
      <Words kind="heading">Own limits</Words>
      {Object.entries(limits).map(([name, limit]) => {
        const known = allLimits[name as keyof typeof allLimits] as { unit: string; min?: number; max?: number } | undefined
        const why = limitReasons[name as LimitName]
        const bound = (key: 'min' | 'max', value: number | undefined) => {
          const { [key]: _, ...rest } = limit
          put(name, value === undefined ? rest : { ...rest, [key]: value })
        }
        return (
          <Column key={name} borderBottomWidth={1} borderColor="$line" paddingBottom="$2">
            <Words kind="strong">{name}</Words>
            {known !== undefined && (
              <Words kind="small">
                the shop’s: {known.min ?? ''}
                {known.max === undefined ? '' : ` to ${known.max}`} {known.unit} ({why.source}): {why.reason}
              </Words>
            )}
            <Row flexWrap="wrap" alignItems="flex-start">
              <NumberField
                label="From"
                place={`limits.${name}.min`}
                value={limit.min}
                onChange={(value) => bound('min', value)}
              />
              <NumberField label="To" place={`limits.${name}.max`} value={limit.max} onChange={(value) => bound('max', value)} />
              <Field
                label="Reason"
                place={`limits.${name}.reason`}
                value={limit.reason}
                onChange={(reason) => put(name, { ...limit, reason })}
              />
              <BesideFields>
                <Act kind="quiet" label="Out" named={`${name}: back to the shop’s`} onPress={() => put(name, null)} />
              </BesideFields>
            </Row>
          </Column>
        )
      })}
      {adding ? (
        <Choices
          label="Which"
          choices={left.map((name) => [name, name] as const)}
          chosen={undefined}
          choose={(name) => {
            const known = allLimits[name as keyof typeof allLimits] as { min?: number; max?: number }
            put(name, {
              ...(known.min === undefined ? {} : { min: known.min }),
              ...(known.max === undefined ? {} : { max: known.max }),
              reason: '',
            })
            setAdding(false)
          }}
        />
      ) : (
        <Row>
          <Act kind="quiet" label="Set another limit" onPress={() => setAdding(true)} />
        </Row>
      )}
    </Paper>
  )
}
