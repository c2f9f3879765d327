import type { JobView, Settings, SettingsView } from '@taraf/contract'
import { groupsOf } from '@taraf/core'
import { useLocalSearchParams } from 'expo-router'
import { useDeferredValue, useMemo, useState } from 'react'
import { ScrollView } from 'react-native'
import { View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { Loading, ProblemNotice } from '../parts/Notice'
import { Column, Row, Words } from '../parts/type'
import { JobFrame } from '../screens/JobFrame'
import { problemOf, useMeQuery, useSettingsQuery } from '../store/api'
import { useDraft } from '../store/useDraft'
import { useAfterDraw } from './useAfterDraw'
import { Elsewhere } from './Elsewhere'
import { Lines } from './Lines'
import { linesOf } from './settingLines'
import { Staged } from './Staged'

/** All settings of one airframe: what the sheet says, what the board has, when and by whom each changed; and writing some of them. */
export const SettingsScreen = () => {
  const { id } = useLocalSearchParams<{ id: string }>()
  return (
    <JobFrame id={id} at="settings">
      {(job) => <All job={job} />}
    </JobFrame>
  )
}

const All = ({ job }: { job: JobView }) => {
  const { data, error, refetch } = useSettingsQuery(job.id)
  if (data === undefined)
    return error === undefined ? (
      <Loading what="the settings" />
    ) : (
      <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
    )
  return <Table job={job} view={data} />
}

const shows = [
  ['all', 'all'],
  ['differs', 'other than the sheet'],
  ['changed', 'other than the factory'],
] as const
type Show = (typeof shows)[number][0]

const Table = ({ job, view }: { job: JobView; view: SettingsView }) => {
  const [search, setSearch] = useState('')
  const [show, setShow] = useState<Show>('all')
  const [staged, stage, forget] = useDraft<Settings>(`${job.id}.settings`, {})
  const [group, setGroup] = useState<string | null>(null)
  const sought = useDeferredValue(search)
  // The lines come first: what stands below and beside them is drawn once they are.
  const drawn = useAfterDraw()
  const { data: me } = useMeQuery()
  const groups = useMemo(() => (drawn ? groupsOf(view.settings.map((s) => s.name)) : []), [view.settings, drawn])
  const lines = useMemo(
    () =>
      linesOf(view.settings, job.sheet.settings, sought).filter(
        ({ setting, differs }) =>
          (group === null || setting.name.startsWith(`${group}.`)) &&
          (show === 'all' || (show === 'differs' ? differs : setting.saved !== setting.factory)),
      ),
    [view.settings, job.sheet.settings, sought, show, group],
  )
  const may = view.live && job.closedAt === null && job.bench?.heldBy?.id === me?.id
  const set = (name: string, value: number | undefined) => {
    const found = view.settings.find((s) => s.name === name)
    const { [name]: _, ...rest } = staged
    stage(value === undefined || value === found?.saved ? rest : { ...rest, [name]: value })
  }
  return (
    <View flexDirection="column" gap="$4" $wide={{ flexDirection: 'row', alignItems: 'flex-start' }}>
      <Column gap="$3" minWidth={0} $wide={{ flex: 1 }}>
        <Row justifyContent="space-between" flexWrap="wrap">
          <Words kind="title">Settings</Words>
          <Words kind="small">
            {view.live ? 'as the board has them now' : 'as they were seen last: the board is not linked'}
          </Words>
        </Row>
        <Field label="Search" value={search} onChange={setSearch} />
        <ScrollView horizontal showsHorizontalScrollIndicator={false} role="group" aria-label="Show">
          {shows.map(([value, words]) => (
            <Act key={value} kind="quiet" label={words} selected={show === value} onPress={() => setShow(value)} />
          ))}
        </ScrollView>
        <View minHeight={56}>
          {drawn && (
            <ScrollView horizontal showsHorizontalScrollIndicator={false} role="group" aria-label="Group">
              <Act kind="quiet" label="every group" selected={group === null} onPress={() => setGroup(null)} />
              {groups.map(([name, names]) => (
                <Act
                  key={name}
                  kind="quiet"
                  label={`${name} ${names.length}`}
                  selected={group === name}
                  onPress={() => setGroup(name)}
                />
              ))}
            </ScrollView>
          )}
        </View>
        <Words kind="small" aria-live="polite">
          {lines.length} shown, {lines.filter((l) => l.differs).length} other than the sheet
        </Words>
        <Lines lines={lines} view={view} staged={staged} may={may} set={set} />
      </Column>
      <Column gap="$4" $wide={{ width: 360 }}>
        {drawn && (
          <>
            <Staged job={job} view={view} staged={staged} stage={stage} forget={forget} may={may} />
            <Elsewhere job={job} view={view} stage={stage} may={may} />
          </>
        )}
      </Column>
    </View>
  )
}
