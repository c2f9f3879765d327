import type { AirframeRow, SheetRow } from '@taraf/contract'
import { checkById } from '@taraf/core'
import { View } from '@tamagui/core'
import { createColumnHelper, getCoreRowModel, getSortedRowModel, useReactTable, type SortingState } from '@tanstack/react-table'
import { useCallback, useMemo, useState, type ReactNode } from 'react'
import { timeWords } from '../parts/dates'
import { LongList } from '../parts/LongList'
import { OverallShape, overallWord, StandingShape, standingWord } from '../parts/StandingMark'
import { TableCells, TableHeads } from '../parts/Table'
import { Column, Reading, Row, Words } from '../parts/type'
import { madeWords, OpenSheet } from '../sheets/sheetRow'

export type Sorting = SortingState

const airframe = createColumnHelper<AirframeRow>()
/** The columns of the wide table, each as wide as what stands in it needs. */
const airframeColumns = [
  airframe.accessor('tag', {
    header: 'tag',
    meta: { width: 104 },
    cell: (cell) => <Reading fontFamily="ReadingsBold">{cell.getValue()}</Reading>,
  }),
  airframe.accessor('title', {
    id: 'type',
    header: 'type',
    meta: { share: 1.2 },
    cell: (cell) => <Words numberOfLines={1}>{cell.getValue()}</Words>,
  }),
  airframe.display({
    id: 'sheet',
    header: 'sheet',
    meta: { width: 76 },
    cell: ({ row: { original: row } }) => (
      <Words>
        {row.type} v{row.version}
      </Words>
    ),
  }),
  airframe.display({
    id: 'board',
    header: 'board',
    meta: { width: 92 },
    cell: ({ row }) => <Reading>{row.original.board}</Reading>,
  }),
  airframe.accessor('overall', {
    id: 'standing',
    header: 'standing',
    meta: { share: 1 },
    cell: ({ row: { original: row } }) => (
      <Row gap="$1">
        <OverallShape overall={row.overall} />
        <Words numberOfLines={1} flexShrink={1}>
          {row.bench !== null ? `on ${row.bench}` : row.parked !== null ? `parked: ${row.parked}` : overallWord(row.overall)}
        </Words>
      </Row>
    ),
  }),
  airframe.display({
    id: 'route',
    header: 'route',
    meta: { width: 120 },
    cell: ({ row: { original: row } }) => (
      <Row gap={2} role="img" aria-label={`stations: ${row.route.map(standingWord).join(', ')}`}>
        {row.route.map((state, i) => (
          <StandingShape key={i} state={state} size={14} />
        ))}
      </Row>
    ),
  }),
  airframe.display({
    id: 'open items',
    header: 'open items',
    meta: { width: 88 },
    cell: ({ row }) => <Reading>{row.original.openItems === 0 ? '' : row.original.openItems}</Reading>,
  }),
  airframe.display({
    id: 'next',
    header: 'next',
    meta: { share: 1 },
    cell: ({ row: { original: row } }) => (
      <Words numberOfLines={1}>{row.next === null ? '' : (checkById(row.next)?.title ?? row.next)}</Words>
    ),
  }),
  airframe.accessor('touchedAt', {
    id: 'touched',
    header: 'last touched',
    meta: { width: 150 },
    cell: ({ row: { original: row } }) => (
      <Words kind="small" numberOfLines={1}>
        {timeWords(row.touchedAt)}
        {row.touchedBy !== null && `, ${row.touchedBy.split(' ')[0]}`}
      </Words>
    ),
  }),
]

interface AirframeTableProps {
  readonly total: number
  readonly rowAt: (index: number) => AirframeRow | null
  readonly see: (first: number, last: number) => void
  readonly sorting: Sorting
  readonly sort: (sorting: Sorting) => void
  readonly rowHeight: number
  readonly line: (row: AirframeRow | null, cells: ReactNode) => ReactNode
}

/** The airframes on a wide screen. The server sorts and pages: the table holds the rows in sight alone. */
export const AirframeTable = ({ total, rowAt, see, sorting, sort, rowHeight, line }: AirframeTableProps) => {
  const [{ first, last }, setInSight] = useState({ first: 0, last: 0 })
  const seen = useCallback(
    (from: number, to: number) => {
      see(from, to)
      setInSight((now) => (now.first === from && now.last === to ? now : { first: from, last: to }))
    },
    [see],
  )
  const rows = useMemo(
    () => Array.from({ length: last - first + 1 }, (_, i) => rowAt(first + i)).filter((row) => row !== null),
    [first, last, rowAt],
  )
  // eslint-disable-next-line react-hooks/incompatible-library -- the rows in sight are drawn again whenever they change
  const table = useReactTable({
    data: rows,
    columns: airframeColumns,
    state: { sorting },
    onSortingChange: (next) => sort(typeof next === 'function' ? next(sorting) : next),
    manualSorting: true,
    enableSortingRemoval: false,
    sortDescFirst: false,
    getCoreRowModel: getCoreRowModel(),
    getRowId: ({ tag }) => tag,
  })
  return (
    <View flex={1} minHeight={0} role="table" aria-label="Airframes">
      <TableHeads table={table} />
      <LongList
        role="rowgroup"
        label="Airframes"
        count={total}
        rowHeight={rowHeight}
        see={seen}
        row={(index) => {
          const row = rowAt(index)
          const cells = row === null ? undefined : table.getRowModel().rowsById[row.tag]
          return line(row, cells === undefined ? null : <TableCells row={cells} />)
        }}
      />
    </View>
  )
}

const sheet = createColumnHelper<SheetRow>()
const sheetColumns = [
  sheet.accessor('type', {
    header: 'type',
    meta: { width: 110 },
    cell: (cell) => <Words kind="strong">{cell.getValue()}</Words>,
  }),
  sheet.accessor('title', { header: 'title', meta: { share: 1 }, cell: (cell) => <Words>{cell.getValue()}</Words> }),
  sheet.accessor('version', { header: 'version', meta: { width: 90 }, cell: (cell) => <Reading>{cell.getValue()}</Reading> }),
  sheet.accessor('airframes', {
    header: 'airframes',
    meta: { width: 110 },
    cell: (cell) => <Reading>{cell.getValue()}</Reading>,
  }),
  sheet.accessor('madeAt', {
    header: 'made',
    meta: { share: 1.4 },
    cell: ({ row: { original: row } }) => <Words kind="small">{madeWords(row)}</Words>,
  }),
  sheet.display({
    id: 'open',
    header: 'open',
    enableSorting: false,
    meta: { width: 84 },
    cell: ({ row }) => <OpenSheet row={row.original} />,
  }),
]

/** The build sheets on a wide screen. */
export const SheetTable = ({ rows }: { rows: readonly SheetRow[] }) => {
  const [sorting, setSorting] = useState<SortingState>([{ id: 'type', desc: false }])
  // eslint-disable-next-line react-hooks/incompatible-library -- its rows are drawn again whenever they change
  const table = useReactTable({
    data: rows as SheetRow[],
    columns: sheetColumns,
    state: { sorting },
    onSortingChange: setSorting,
    enableSortingRemoval: false,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  })
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
