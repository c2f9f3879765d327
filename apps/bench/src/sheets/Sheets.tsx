import type { SheetRow } from '@taraf/contract'
import { createColumnHelper, getCoreRowModel, getSortedRowModel, useReactTable, type SortingState } from '@tanstack/react-table'
import { useMedia } from '@tamagui/core'
import { useRouter } from 'expo-router'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { pickFile } from '../parts/files'
import { Screen } from '../parts/Screen'
import { TableCells, TableHeads } from '../parts/Table'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useMeQuery } from '../store/people'
import { useMakeSheetMutation, useSheetsQuery } from '../store/sheets'
import { sheetPath } from './sheetPath'

/** The build sheets of the shop, the newest version of each. */
export const Sheets = () => {
  const { data, error, refetch } = useSheetsQuery()
  const { data: me } = useMeQuery()
  const router = useRouter()
  const [make, making] = useMakeSheetMutation()
  const [wrong, setWrong] = useState<string | null>(null)
  const lead = me?.role === 'lead'
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
        <Words kind="title">Build sheets</Words>
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
        {data !== undefined && data.length > 0 && <SheetTable rows={data} />}
      </Column>
    </Screen>
  )
}

const column = createColumnHelper<SheetRow>()
const columns = [
  column.accessor('type', {
    header: 'type',
    meta: { width: 110 },
    cell: (cell) => <Words kind="strong">{cell.getValue()}</Words>,
  }),
  column.accessor('title', { header: 'title', meta: { share: 1 }, cell: (cell) => <Words>{cell.getValue()}</Words> }),
  column.accessor('version', { header: 'version', meta: { width: 90 }, cell: (cell) => <Reading>{cell.getValue()}</Reading> }),
  column.accessor('airframes', {
    header: 'airframes',
    meta: { width: 110 },
    cell: (cell) => <Reading>{cell.getValue()}</Reading>,
  }),
  column.accessor('madeAt', {
    header: 'made',
    meta: { share: 1.4 },
    cell: ({ row: { original: row } }) => <Words kind="small">{madeWords(row)}</Words>,
  }),
  column.display({
    id: 'open',
    header: 'open',
    enableSorting: false,
    meta: { width: 84 },
    cell: ({ row }) => <OpenSheet row={row.original} />,
  }),
]

const OpenSheet = ({ row }: { row: SheetRow }) => {
  const router = useRouter()
  return <Act label="Open" named={`Open ${row.type}`} onPress={() => router.push(sheetPath(row.type, row.version))} />
}

const madeWords = ({ madeAt, madeBy, why, variantOf }: SheetRow): string =>
  [
    `${dateWords(madeAt)}${madeBy === null ? '' : ` by ${madeBy}`}${why === null ? '' : `: ${why}`}`,
    ...(variantOf === null ? [] : [`a variant of ${variantOf}`]),
  ].join('; ')

/** A table on a wide screen, a card for each on a phone. */
const SheetTable = ({ rows }: { rows: readonly SheetRow[] }) => {
  const { wide } = useMedia()
  const [sorting, setSorting] = useState<SortingState>([{ id: 'type', desc: false }])
  // eslint-disable-next-line react-hooks/incompatible-library -- its rows are drawn anew whenever they change
  const table = useReactTable({
    data: rows as SheetRow[],
    columns,
    state: { sorting },
    onSortingChange: setSorting,
    enableSortingRemoval: false,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  })
  if (!wide)
    return table.getRowModel().rows.map(({ original: row }) => (
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
  return (
    <Column gap="$0" role="table" aria-label="Build sheets">
      <TableHeads table={table} />
      {table.getRowModel().rows.map((row) => (
        <Row
          key={row.id}
          role="row"
          gap="$3"
          paddingHorizontal="$4"
          paddingVertical="$1"
          borderBottomWidth={1}
          borderColor="$line"
        >
          <TableCells row={row} />
        </Row>
      ))}
    </Column>
  )
}
