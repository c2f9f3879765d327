import type { SheetRow } from '@taraf/contract'
import { useMedia } from '@tamagui/core'
import { useRouter } from 'expo-router'
import { lazy, Suspense, useState } from 'react'
import { Act } from '../parts/Act'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { pickFile } from '../parts/files'
import { Screen } from '../parts/Screen'
import { Column, Paper, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useMeQuery } from '../store/people'
import { useMakeSheetMutation, useSheetsQuery } from '../store/sheets'
import { madeWords, OpenSheet } from './sheetRow'
import { sheetPath } from './sheetPath'

/** The build sheets of the shop, the newest version of each. */
export const Sheets = () => {
  const { data, error, refetch } = useSheetsQuery()
  const { data: me } = useMeQuery()
  const router = useRouter()
  const [make, making] = useMakeSheetMutation()
  const [wrong, setWrong] = useState<string | null>(null)
  const lead = me?.role === 'lead'
  const { wide } = useMedia()
  const take = async () => {
    const file = await pickFile('.json,application/json')
    if (file === null) return
    try {
      const sheet = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(await file.arrayBuffer())) as unknown
      setWrong(null)
      const result = await make(sheet)
      if ('data' in result && result.data !== undefined) router.push(sheetPath(result.data.type, result.data.version))
    } catch (failed) {
      setWrong(failed instanceof SyntaxError ? `It is not whole JSON: ${failed.message}.` : 'It is not in UTF-8.')
    }
  }
  return (
    <Screen
      actions={
        <Act
          grow
          kind="main"
          label={making.isLoading ? 'Reading the file …' : 'Take in a sheet from a file'}
          off={!lead || making.isLoading}
          onPress={() => void take()}
        />
      }
    >
      <Column gap="$3">
        <Row justifyContent="space-between">
          <Words kind="title">Build sheets</Words>
          <Act kind="quiet" label="Transmitters" onPress={() => router.push('/transmitters' as never)} />
        </Row>
        <Words>
          What a finished airframe of each type must be. A version that was used never changes; a lead makes the next one.
        </Words>
        {wrong !== null && (
          <Notice title="The file cannot be taken" detail={wrong} todo="Correct it and choose it again; nothing was changed." />
        )}
        <ProblemNotice problem={problemOf(making.error)} />
        <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
        {data === undefined && error === undefined && <Loading what="the build sheets" />}
        {data?.length === 0 && (
          <Notice title="No build sheet yet" todo="Take one in from a file; every airframe is built to one." />
        )}
        {data !== undefined &&
          data.length > 0 &&
          (wide ? (
            <Suspense fallback={<Loading what="the build sheets" />}>
              <SheetTable rows={data} />
            </Suspense>
          ) : (
            <SheetCards rows={data} />
          ))}
      </Column>
    </Screen>
  )
}

/** What draws tables is fetched where there is one. */
const SheetTable = lazy(async () => ({ default: (await import('../screens/tables')).SheetTable }))

/** A card for each on a phone. */
const SheetCards = ({ rows }: { rows: readonly SheetRow[] }) =>
  rows.map((row) => (
    <Paper key={row.type}>
      <Row justifyContent="space-between">
        <Column gap="$0" flex={1} minWidth={0}>
          <Words kind="heading">
            {row.type}, version {row.version}
          </Words>
          <Words>{row.title}</Words>
          <Words kind="small">
            {row.airframes} airframes; made {madeWords(row)}
          </Words>
        </Column>
        <OpenSheet row={row} />
      </Row>
    </Paper>
  ))
