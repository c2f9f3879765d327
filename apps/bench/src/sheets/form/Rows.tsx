import { useState, type ReactNode } from 'react'
import { Act } from '../../parts/Act'
import { BesideFields } from '../../parts/Field'
import { Paper, Row, Words } from '../../parts/type'
import { Within } from '../../parts/wrong'

interface RowsProps<T> {
  readonly title: string
  /** Where the list stands in the sheet. */
  readonly place: string
  readonly rows: readonly T[]
  readonly change: (rows: T[]) => void
  readonly fresh: T
  readonly row: (one: T, put: (news: T) => void) => ReactNode
}

/** A list that can grow and shrink; what was taken out can be put back at once. */
export const Rows = <T,>({ title, place, rows, change, fresh, row }: RowsProps<T>) => {
  const [out, setOut] = useState<{ one: T; at: number } | null>(null)
  return (
    <Paper role="group" aria-label={title}>
      <Words kind="heading">{title}</Words>
      {rows.map((one, i) => (
        <Row key={i} alignItems="flex-start" borderBottomWidth={1} borderColor="$line" paddingBottom="$2">
          <Row flex={1} flexWrap="wrap" minWidth={0} alignItems="flex-start">
            <Within place={`${place}[${i}]`}>{row(one, (news) => change(rows.map((r, j) => (j === i ? news : r))))}</Within>
          </Row>
          <BesideFields>
            <Act
              kind="quiet"
              label="Out"
              named={`${title}: take row ${i + 1} out`}
              onPress={() => (setOut({ one, at: i }), change(rows.filter((_, j) => j !== i)))}
            />
          </BesideFields>
        </Row>
      ))}
      <Row>
        <Act kind="quiet" label="Add one" named={`${title}: add one`} onPress={() => change([...rows, fresh])} />
        {out !== null && (
          <Act
            kind="quiet"
            label="Put back what was taken out"
            onPress={() => (change([...rows.slice(0, out.at), out.one, ...rows.slice(out.at)]), setOut(null))}
          />
        )}
      </Row>
    </Paper>
  )
}
