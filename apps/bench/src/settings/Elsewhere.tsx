import type { Settings, SettingsView } from '@taraf/contract'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { Field } from '../parts/Field'
import { Notice, ProblemNotice } from '../parts/Notice'
import { pickFile, saveFile, saveFrom } from '../parts/files'
import { Column, Paper, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useClearSettingsMutation, useLazySettingsOfTakeQuery, useReadSettingsMutation } from '../store/boards'
import type { StagedProps } from './Staged'

/** A settings file says for what firmware it is: a number may mean something else to another. */
const fileOf = ({ target, firmware, settings }: SettingsView) => ({
  format: 'taraf-settings/1',
  target,
  firmware,
  settings: Object.fromEntries(settings.map((s) => [s.name, s.saved])),
})

/** Out to a file, in from one, back to an earlier take, and clearing. */
export const Elsewhere = ({ job, view, stage, may }: Pick<StagedProps, 'job' | 'view' | 'stage' | 'may'>) => {
  const [readFile, reading] = useReadSettingsMutation()
  const [read, { error }] = useLazySettingsOfTakeQuery()
  /** A file of another firmware, which waits to be confirmed. */
  const [other, setOther] = useState<{ firmware: string; values: Settings } | null>(null)
  const [clearing, setClearing] = useState(false)
  const [cause, setCause] = useState('')
  const [clear, { isLoading, error: clearError }] = useClearSettingsMutation()
  const takes = job.entries
    .filter((e) => e.body.kind === 'take' && e.body.evidenceSha256 !== null && e.body.bench !== 'by eye')
    .reverse()
  const stageDiffering = (values: Settings) =>
    stage(
      Object.fromEntries(
        Object.entries(values).filter(([name, value]) => view.settings.find((s) => s.name === name)?.saved !== value),
      ),
    )
  const take = async () => {
    const file = await pickFile('.json,.csv')
    if (file === null) return
    const { data } = await readFile({ job: job.id, file })
    if (data === undefined) return
    setOther(data.firmware === null || data.firmware === view.firmware ? null : { ...data, firmware: data.firmware })
    if (data.firmware === null || data.firmware === view.firmware) stageDiffering(data.values)
  }
  const restore = async (seq: number) => {
    const { data } = await read({ job: job.id, seq })
    if (data !== undefined) stageDiffering(data)
  }
  return (
    <Column gap="$3">
      <Words kind="heading">Files</Words>
      <Row flexWrap="wrap">
        <Act
          label="Save as JSON"
          onPress={() => saveFile(`${job.tag}-settings.json`, JSON.stringify(fileOf(view), null, 1), 'application/json')}
        />
        <Act label="Save as CSV" onPress={() => saveFrom(`/api/jobs/${job.id}/settings.csv`)} />
        <Act label="Take in a file" off={!may} onPress={() => void take()} />
      </Row>
      <ProblemNotice problem={problemOf(reading.error)} />
      {other !== null && (
        <Notice
          title="The file is of another firmware"
          detail={`It is of ${other.firmware}; the board runs ${view.firmware}. A number may mean something else there.`}
          todo="Look at each value before it is written."
          act={{ label: 'Show them all the same', onPress: () => (stageDiffering(other.values), setOther(null)) }}
        />
      )}
      <Words kind="heading">Back to an earlier state</Words>
      {takes.length === 0 && <Words kind="faint">No take of this card has kept settings yet.</Words>}
      {takes.slice(0, 8).map((entry) => (
        <Row key={entry.seq} justifyContent="space-between" flexWrap="wrap">
          <Words kind="small">
            take {entry.seq}, {dateWords(entry.at)}
            {entry.body.kind === 'take' && entry.body.check === 'board.asReceived' && ', as received'}
          </Words>
          <Act
            kind="quiet"
            label="Compare and restore"
            named={`Restore take ${entry.seq}`}
            off={!may}
            onPress={() => void restore(entry.seq)}
          />
        </Row>
      ))}
      <ProblemNotice problem={problemOf(error)} />
      <Words kind="heading">Clear</Words>
      {!clearing ? (
        <Row>
          <Act kind="quiet" label="Clear to the factory and write the sheet" off={!may} onPress={() => setClearing(true)} />
        </Row>
      ) : (
        <Paper>
          <Words kind="small">
            Everything goes back to the factory, then the sheet’s settings are written and what is this airframe’s own
            (calibration, scales, trims, mounting) is put back: one act, read back and compared.
          </Words>
          <Field label="Why" value={cause} onChange={setCause} />
          <Row>
            <Act
              label={isLoading ? 'Clearing, writing, reading back …' : 'Clear and write'}
              off={!may || isLoading || cause.trim().length < 3}
              onPress={() =>
                void clear({ job: job.id, cause: cause.trim() }).then((result) => !('error' in result) && setClearing(false))
              }
            />
            <Act kind="quiet" label="Leave it" onPress={() => setClearing(false)} />
          </Row>
          <ProblemNotice problem={problemOf(clearError)} />
        </Paper>
      )}
    </Column>
  )
}
