import type { JobView, Settings, SettingsView } from '@taraf/contract'
import { checks, wouldSpoil } from '@taraf/core'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { Notice, ProblemNotice } from '../parts/Notice'
import { Paper, Reading, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useWriteSettingsMutation } from '../store/boards'

export interface StagedProps {
  readonly job: JobView
  readonly view: SettingsView
  readonly staged: Settings
  readonly stage: (values: Settings) => void
  readonly forget: () => void
  readonly may: boolean
}

/** What would be written, and what that will spoil, before it is. */
export const Staged = ({ job, view, staged, stage, forget, may }: StagedProps) => {
  const [cause, setCause] = useState('')
  const [write, { isLoading, error }] = useWriteSettingsMutation()
  const names = Object.keys(staged)
  if (names.length === 0)
    return may ? (
      <Words kind="small">
        Change a value, restore an earlier state, or take in a file: it is shown here before anything is written.
      </Words>
    ) : null
  const found = (name: string) => view.settings.find((s) => s.name === name)
  const change = {
    what: 'settings' as const,
    settings: names.map((name) => ({ name, from: found(name)?.saved ?? null, to: staged[name] as number })),
  }
  const spoiled = wouldSpoil(checks, job.standings, change, job.sheet)
  const unknown = names.filter((name) => found(name) === undefined)
  const outside = names.filter((name) => {
    const setting = found(name)
    return setting !== undefined && ((staged[name] as number) < setting.min || (staged[name] as number) > setting.max)
  })
  const submit = async () => {
    const result = await write({ job: job.id, values: staged, cause: cause.trim() })
    if (!('error' in result)) forget()
  }
  return (
    <Paper role="region" aria-label="To be written">
      <Words kind="heading">To be written: {names.length}</Words>
      {names.slice(0, 12).map((name) => (
        <Row key={name} justifyContent="space-between" flexWrap="wrap">
          <Words kind="small">{name}</Words>
          <Reading size="small">
            {found(name)?.saved ?? 'unknown'} to {staged[name]}
          </Reading>
        </Row>
      ))}
      {names.length > 12 && <Words kind="small">and {names.length - 12} more</Words>}
      {unknown.length > 0 && (
        <Notice
          title="This board does not know"
          detail={unknown.join(', ')}
          todo="Take them out: nothing is applied half."
          act={{ label: 'Take them out', onPress: () => stage(without(staged, unknown)) }}
        />
      )}
      {outside.length > 0 && (
        <Notice
          title="Out of range"
          detail={outside.join(', ')}
          todo="Change them, or take them out."
          act={{ label: 'Take them out', onPress: () => stage(without(staged, outside)) }}
        />
      )}
      <Words kind={spoiled.length > 0 ? 'strong' : 'small'} role="status">
        {spoiled.length === 0
          ? 'It spoils no result.'
          : `It spoils: ${spoiled.map((id) => checks.find((c) => c.id === id)?.title ?? id).join(', ')}.`}
      </Words>
      <Field label="Why: kept on the card" value={cause} onChange={setCause} />
      <Row flexWrap="wrap">
        <Act
          label={isLoading ? 'Writing, restarting, reading back …' : 'Write them as one act'}
          off={!may || isLoading || cause.trim().length < 3 || unknown.length + outside.length > 0}
          onPress={() => void submit()}
        />
        <Act kind="quiet" label="Leave all as it is" onPress={forget} />
      </Row>
      {!may && <Words kind="small">To write, hold the bench of this airframe.</Words>}
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
  )
}

const without = (values: Settings, names: readonly string[]): Settings =>
  Object.fromEntries(Object.entries(values).filter(([name]) => !names.includes(name)))
