import { flexRender, type Row as TableRow, type RowData, type Table as TableOf } from '@tanstack/react-table'
import { View } from '@tamagui/core'
import { Act } from './Act'
import { Row, Words } from './type'

declare module '@tanstack/react-table' {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars -- how the library takes what a column says of itself
  interface ColumnMeta<TData extends RowData, TValue> {
    /** How wide a column is, px, or its share of what is left. */
    readonly width?: number
    readonly share?: number
  }
}

const sizeOf = (meta: { width?: number; share?: number } | undefined) =>
  meta?.width === undefined ? { flex: meta?.share ?? 1 } : { width: meta.width }

/** The heads of a table; those that it can be sorted by are buttons. */
export const TableHeads = <T,>({ table }: { table: TableOf<T> }) => (
  <Row role="row" gap="$3" paddingHorizontal="$4" minHeight={48} borderBottomWidth={1} borderColor="$mark">
    {table.getFlatHeaders().map(({ id, column }) => {
      const head = String(column.columnDef.header ?? '')
      const sorted = column.getIsSorted()
      return (
        <View
          key={id}
          role="columnheader"
          aria-sort={sorted === false ? undefined : sorted === 'asc' ? 'ascending' : 'descending'}
          minWidth={0}
          alignItems="flex-start"
          {...sizeOf(column.columnDef.meta)}
        >
          {column.getCanSort() ? (
            <View marginLeft={-8}>
              <Act
                kind="quiet"
                label={`${head}${sorted === false ? '' : sorted === 'asc' ? ' ↑' : ' ↓'}`}
                named={`Sort by ${head}`}
                selected={sorted !== false}
                onPress={() => column.toggleSorting()}
              />
            </View>
          ) : (
            <Words kind="small">{head}</Words>
          )}
        </View>
      )
    })}
  </Row>
)

/** The cells of one row, each under its head. */
export const TableCells = <T,>({ row }: { row: TableRow<T> }) =>
  row.getVisibleCells().map((cell) => (
    <View key={cell.id} role="cell" minWidth={0} {...sizeOf(cell.column.columnDef.meta)}>
      {flexRender(cell.column.columnDef.cell, cell.getContext())}
    </View>
  ))
