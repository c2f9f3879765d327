import { checkById, checks } from '@taraf/core'
import { useState } from 'react'
import { Act } from '../../parts/Act'
import { Paper, Row, Words } from '../../parts/type'
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

/** Which checks this type leaves out, and which it asks for though others do not. */
export const WhichChecks = ({ sheet, set }: PartProps) => {
  const { setAside = [], asks = [] } = sheet
  const [open, setOpen] = useState(false)
  const toggled = (list: readonly string[], id: string) => (list.includes(id) ? list.filter((one) => one !== id) : [...list, id])
  return (
    <Paper role="group" aria-label="Checks">
      <Words kind="heading">Checks</Words>
      <Words kind="small">
        {setAside.length === 0 ? 'None is left out.' : `Left out: ${titlesOf(setAside)}.`}{' '}
        {asks.length > 0 && `Asked for: ${titlesOf(asks)}.`}
      </Words>
      {!open ? (
        <Row>
          <Act kind="quiet" label="Choose checks" onPress={() => setOpen(true)} />
        </Row>
      ) : (
        checks.map(({ id, title }) => (
          <Row key={id} justifyContent="space-between" flexWrap="wrap" borderBottomWidth={1} borderColor="$line">
            <Words flex={1}>{title}</Words>
            <Act
              kind="quiet"
              label="leave out"
              named={`${title}: leave out`}
              selected={setAside.includes(id)}
              onPress={() => set({ setAside: toggled(setAside, id) })}
            />
            <Act
              kind="quiet"
              label="ask for"
              named={`${title}: ask for`}
              selected={asks.includes(id)}
              onPress={() => set({ asks: toggled(asks, id) })}
            />
          </Row>
        ))
      )}
    </Paper>
  )
}
const titlesOf = (ids: readonly string[]) => ids.map((id) => checkById(id)?.title ?? id).join(', ')
