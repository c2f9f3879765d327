import type { JobView, Settings, SettingsView } from '@taraf/contract'
import { groupsOf } from '@taraf/core'
import { useLocalSearchParams } from 'expo-router'
import { memo, useDeferredValue, useMemo, useState } from 'react'
import { ScrollView } from 'react-native'
import { View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { Loading, ProblemNotice } from '../parts/Notice'
import { Column, Words } from '../parts/type'
import { JobFrame } from '../screens/JobFrame'
import { problemOf } from '../store/api'
import { useSettingsQuery } from '../store/boards'
import { useMeQuery } from '../store/people'
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

const shows = [
  ['all', 'all'],
  ['differs', 'other than the sheet'],
  ['changed', 'other than the factory'],
] as const
type Show = (typeof shows)[number][0]

/** The frame stands before the board has answered; its answer then draws lines alone, however many there are. */
const All = ({ job }: { job: JobView }) => {
  const { data: view, error, refetch } = useSettingsQuery(job.id)
  const [search, setSearch] = useState('')
  const [show, setShow] = useState<Show>('all')
  const [staged, stage, forget] = useDraft<Settings>(`${job.id}.settings`, {})
  // What stands beside and below the lines is drawn once they are.
  const drawn = useAfterDraw(view !== undefined)
  const { data: me } = useMeQuery()
  if (view === undefined && error !== undefined)
    return <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
  const may = view?.live === true && job.closedAt === null && job.bench?.heldBy?.id === me?.id
  return (
    <View flexDirection="column" gap="$4" $wide={{ flexDirection: 'row', alignItems: 'flex-start' }}>
      <Column gap="$3" minWidth={0} $wide={{ flex: 1 }}>
        <Asked search={search} setSearch={setSearch} show={show} setShow={setShow} />
        {view === undefined ? (
          <Loading what="the settings" />
        ) : (
          <Table job={job} view={view} search={search} show={show} staged={staged} stage={stage} may={may} drawn={drawn} />
        )}
      </Column>
      <Column gap="$4" $wide={{ width: 360 }}>
        {drawn && view !== undefined && (
          <>
            <Staged job={job} view={view} staged={staged} stage={stage} forget={forget} may={may} />
            <Elsewhere job={job} view={view} stage={stage} may={may} />
          </>
        )}
      </Column>
    </View>
  )
}

interface AskedProps {
  readonly search: string
  readonly setSearch: (search: string) => void
  readonly show: Show
  readonly setShow: (show: Show) => void
}

const Asked = memo(function Asked({ search, setSearch, show, setShow }: AskedProps) {
  return (
    <>
      <Words kind="title">Settings</Words>
      <Field label="Search" value={search} onChange={setSearch} />
      <ScrollView horizontal showsHorizontalScrollIndicator={false} role="group" aria-label="Show">
        {shows.map(([value, words]) => (
          <Act key={value} kind="quiet" label={words} selected={show === value} onPress={() => setShow(value)} />
        ))}
      </ScrollView>
    </>
  )
})

interface TableProps extends Pick<AskedProps, 'search' | 'show'> {
  readonly job: JobView
  readonly view: SettingsView
  readonly staged: Settings
  readonly stage: (staged: Settings) => void
  readonly may: boolean
  readonly drawn: boolean
}

const Table = ({ job, view, search, show, staged, stage, may, drawn }: TableProps) => {
  const [group, setGroup] = useState<string | null>(null)
  const sought = useDeferredValue(search)
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
  const set = (name: string, value: number | undefined) => {
    const found = view.settings.find((s) => s.name === name)
    const { [name]: _, ...rest } = staged
    stage(value === undefined || value === found?.saved ? rest : { ...rest, [name]: value })
  }
  return (
    <>
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
        {view.live ? 'As the board has them now' : 'As they were seen last: the board is not linked'}: {lines.length} shown,{' '}
        {lines.filter((l) => l.differs).length} other than the sheet
      </Words>
      <Lines lines={lines} view={view} staged={staged} may={may && drawn} set={set} />
    </>
  )
}
