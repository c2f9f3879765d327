import type { AirframeView, BuiltPart } from '@taraf/contract'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { ProblemNotice } from '../parts/Notice'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import { useChangePartsMutation, useGiveSheetMutation } from '../store/airframes'
import { problemOf } from '../store/api'
import { useMeQuery } from '../store/people'
import { useSheetsQuery } from '../store/sheets'
import { PartsForm } from './PartsForm'

/** What an airframe was built from, with serials and lots; parts that were replaced are entered here. */
export const BuiltFrom = ({ airframe }: { airframe: AirframeView }) => {
  const { data: me } = useMeQuery()
  const [open, setOpen] = useState(false)
  const may = me !== undefined && me.role !== 'reader'
  return (
    <Column role="region" aria-label="Parts">
      <Row justifyContent="space-between" flexWrap="wrap">
        <Words kind="heading">Built from</Words>
        {may && !open && <Act kind="quiet" label="Enter parts" onPress={() => setOpen(true)} />}
      </Row>
      {airframe.parts.length === 0 && !open && <Words kind="faint">No serials or lots are registered.</Words>}
      {!open &&
        airframe.parts.map(({ part, model, serial, lot }) => (
          <Row key={`${part}${serial ?? ''}`} justifyContent="space-between" flexWrap="wrap" rowGap="$0">
            <Words>
              {part}, {model}
            </Words>
            <Reading size="small">{[serial, lot === null ? null : `lot ${lot}`].filter((w) => w !== null).join(', ')}</Reading>
          </Row>
        ))}
      {open && <Enter airframe={airframe} done={() => setOpen(false)} />}
      {me?.role === 'lead' && <NewerSheet airframe={airframe} />}
    </Column>
  )
}

const Enter = ({ airframe, done }: { airframe: AirframeView; done: () => void }) => {
  const [parts, setParts] = useState<readonly BuiltPart[]>(airframe.parts)
  const [cause, setCause] = useState('')
  const [change, { isLoading, error }] = useChangePartsMutation()
  const submit = async () => {
    const result = await change({ tag: airframe.tag, parts: [...parts], cause: cause.trim() })
    if (!('error' in result)) done()
  }
  return (
    <Paper>
      <PartsForm wanted={airframe.sheet.parts ?? []} parts={parts} change={setParts} />
      <Field label="Why" value={cause} onChange={setCause} />
      <Row>
        <Act
          label={isLoading ? 'Keeping …' : 'Keep them'}
          off={isLoading || cause.trim().length < 3}
          onPress={() => void submit()}
        />
        <Act kind="quiet" label="Leave it" onPress={done} />
      </Row>
      <Words kind="small">
        A part with another serial than before was replaced: the open job card says so, and what proved it goes stale.
      </Words>
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
  )
}

/** A newer version of the sheet, once no card is open. */
const NewerSheet = ({ airframe }: { airframe: AirframeView }) => {
  const { data: sheets = [] } = useSheetsQuery()
  const [give, { isLoading, error }] = useGiveSheetMutation()
  const newest = sheets.find((s) => s.type === airframe.sheet.type)
  const isOpen = airframe.jobs.some((j) => j.closedAt === null)
  if (newest === undefined || newest.version <= airframe.sheet.version) return null
  return (
    <Column>
      <Row>
        <Act
          kind="quiet"
          label={`Give it version ${newest.version} of its sheet`}
          off={isOpen || isLoading}
          onPress={() => void give({ tag: airframe.tag, type: newest.type, version: newest.version })}
        />
      </Row>
      {isOpen && (
        <Words kind="small">
          Version {newest.version} of its sheet is there; its open card keeps version {airframe.sheet.version}.
        </Words>
      )}
      <ProblemNotice problem={problemOf(error)} />
    </Column>
  )
}
