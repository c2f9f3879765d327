import type { JobView } from '@taraf/contract'
import { Signals } from '../../parts/Signals'
import { Column, Reading, Row, Words } from '../../parts/type'

export interface WantedLine {
  readonly label: string
  readonly value: string
}

/** What the sheet wants, before the board is asked: there is nothing to watch meanwhile. */
export const wanted = (of: (job: JobView) => readonly WantedLine[], says: string, signalsOf?: string) => {
  const Wanted = ({ job }: { job: JobView }) => (
    <Column gap="$2">
      <Words kind="small">
        Wanted by sheet {job.sheet.type} version {job.sheet.version}
      </Words>
      {of(job).map(({ label, value }) => (
        <Row key={label} justifyContent="space-between" flexWrap="wrap" borderBottomWidth={1} borderColor="$line">
          <Words>{label}</Words>
          <Reading size="large">{value}</Reading>
        </Row>
      ))}
      <Words kind="small">{says}</Words>
      {signalsOf !== undefined && <Signals sheet={job.sheet} part={signalsOf} />}
    </Column>
  )
  return Wanted
}
