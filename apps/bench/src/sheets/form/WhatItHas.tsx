import { checkById, checks } from '@taraf/core'
import { useState } from 'react'
import { Act } from '../../parts/Act'
import { Field } from '../../parts/Field'
import { Column, Paper, Row, Words } from '../../parts/type'
import type { PartProps } from './partProps'

const sensors = ['compass', 'barometer', 'position'] as const

export const Fitted = ({ sheet, set }: PartProps) => {
  const { fitted = [], indoors = false } = sheet
  return (
    <Paper role="group" aria-label="Sensors besides the IMU">
      <Words kind="heading">Sensors besides the IMU</Words>
      <Row flexWrap="wrap">
        {sensors.map((one) => (
          <Act
            key={one}
            label={one}
            selected={fitted.includes(one)}
            onPress={() => set({ fitted: fitted.includes(one) ? fitted.filter((f) => f !== one) : [...fitted, one] })}
          />
        ))}
        <Act label="field shown, not judged" selected={indoors} onPress={() => set({ indoors: !indoors })} />
      </Row>
    </Paper>
  )
}

/** Which checks this type leaves out, each with the reason, and which it asks for though others do not. */
export const WhichChecks = ({ sheet, set }: PartProps) => {
  const { leavesOut = {}, asks = [] } = sheet
  const left = Object.keys(leavesOut)
  const [open, setOpen] = useState(false)
  const without = (id: string) => Object.fromEntries(Object.entries(leavesOut).filter(([one]) => one !== id))
  return (
    <Paper role="group" aria-label="Checks">
      <Words kind="heading">Checks</Words>
      <Words kind="small">
        {left.length === 0 ? 'None is left out.' : `Left out: ${titlesOf(left)}.`}{' '}
        {asks.length > 0 && `Asked for: ${titlesOf(asks)}.`}
      </Words>
      {!open ? (
        <Row>
          <Act kind="quiet" label="Choose checks" onPress={() => setOpen(true)} />
        </Row>
      ) : (
        checks.map(({ id, title }) => (
          <Column key={id} borderBottomWidth={1} borderColor="$line">
            <Row justifyContent="space-between" flexWrap="wrap">
              <Words flex={1}>{title}</Words>
              <Act
                kind="quiet"
                label="leave out"
                named={`${title}: leave out`}
                selected={left.includes(id)}
                onPress={() => set({ leavesOut: left.includes(id) ? without(id) : { ...leavesOut, [id]: '' } })}
              />
              <Act
                kind="quiet"
                label="ask for"
                named={`${title}: ask for`}
                selected={asks.includes(id)}
                onPress={() => set({ asks: asks.includes(id) ? asks.filter((one) => one !== id) : [...asks, id] })}
              />
            </Row>
            {left.includes(id) && (
              <Field
                label={`${title} is left out, because`}
                place={`leavesOut["${id}"]`}
                value={leavesOut[id] ?? ''}
                onChange={(reason) => set({ leavesOut: { ...leavesOut, [id]: reason } })}
              />
            )}
          </Column>
        ))
      )}
    </Paper>
  )
}
const titlesOf = (ids: readonly string[]) => ids.map((id) => checkById(id)?.title ?? id).join(', ')
