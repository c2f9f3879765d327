import type { JobView } from '@taraf/contract'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { dateWords } from '../parts/dates'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useBenchesQuery, useHoldMutation, useReleaseMutation } from '../store/benches'
import { useFitBoardMutation } from '../store/jobs'
import { useMeQuery } from '../store/people'
import { useLive } from '../store/store'

/** Links the job card to a bench, says how the link stands, and lets go of it again. */
export const BenchChoice = ({ job }: { job: JobView }) => (
  <Column gap="$3">
    <Words kind="heading">Bench</Words>
    {job.bench === null ? <Benches job={job} /> : <Linked job={job} bench={job.bench} />}
  </Column>
)

const Benches = ({ job }: { job: JobView }) => {
  const { data: benches, error, refetch } = useBenchesQuery()
  const { data: me } = useMeQuery()
  const [hold, holding] = useHoldMutation()
  if (benches === undefined)
    return error === undefined ? (
      <Loading what="the benches" />
    ) : (
      <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
    )
  return (
    <Column>
      <ProblemNotice problem={problemOf(holding.error)} />
      {benches.length === 0 && <Notice title="No bench is set up" todo="A lead adds benches where the boards are plugged in." />}
      {benches.map((bench) => (
        <Paper key={bench.id} paddingVertical="$2">
          <Row flexWrap="wrap" justifyContent="space-between">
            <Column gap="$0">
              <Words kind="strong">{bench.name}</Words>
              <Words kind="small">
                {bench.heldBy === null
                  ? 'free'
                  : `held by ${bench.heldBy.name} for ${bench.heldJob?.tag ?? ''} since ${dateWords(bench.heldBy.since)}`}
              </Words>
            </Column>
            <Act
              label="Link"
              named={`Link ${bench.name}`}
              off={me?.role === 'reader' || holding.isLoading || (bench.heldBy !== null && bench.heldBy.id !== me?.id)}
              onPress={() => void hold({ bench: bench.id, job: job.id })}
            />
          </Row>
        </Paper>
      ))}
    </Column>
  )
}

const Linked = ({ job, bench }: { job: JobView; bench: NonNullable<JobView['bench']> }) => {
  const link = useLive((live) => live.link)
  const { data: me } = useMeQuery()
  const [release, releasing] = useReleaseMutation()
  const mine = bench.heldBy?.id === me?.id
  return (
    <Column>
      <Paper>
        <Row flexWrap="wrap" justifyContent="space-between">
          <Column gap="$0">
            <Words kind="strong">{bench.name}</Words>
            <Words kind="small">{mine ? 'you hold it' : `held by ${bench.heldBy?.name ?? 'somebody'}`}</Words>
          </Column>
          {(mine || me?.role === 'lead') && (
            <Act label="Let go" off={releasing.isLoading} onPress={() => void release(bench.id)} />
          )}
        </Row>
        {link?.board != null && (
          <Words kind="small">
            board <Reading size="small">{link.board}</Reading>
          </Words>
        )}
      </Paper>
      <LinkNotice job={job} />
      <ProblemNotice problem={problemOf(releasing.error)} />
    </Column>
  )
}

/** Says that the board which answers was built into this airframe: what depends on the one before goes stale. */
const FitBoard = ({ job, board }: { job: JobView; board: string }) => {
  const { data: me } = useMeQuery()
  const [cause, setCause] = useState('')
  const [open, setOpen] = useState(false)
  const [fit, fitting] = useFitBoardMutation()
  if (job.closedAt !== null || job.bench?.heldBy?.id !== me?.id) return null
  if (!open) return <Act label="A new board was built in" onPress={() => setOpen(true)} />
  return (
    <Paper>
      <Words>
        {job.tag} has board {board} from now on, in place of {job.board}. Everything that depends on the board is to be run again.
      </Words>
      <Field label="Why it was replaced" value={cause} onChange={setCause} />
      <Row flexWrap="wrap">
        <Act
          label={`Board ${board} is built in`}
          off={cause.trim().length < 3 || fitting.isLoading}
          onPress={() => void fit({ job: job.id, board, cause: cause.trim() })}
        />
        <Act kind="quiet" label="Leave it" onPress={() => setOpen(false)} />
      </Row>
      <ProblemNotice problem={problemOf(fitting.error)} />
    </Paper>
  )
}

/** What is wrong with the link, as long as anything is. */
export const LinkNotice = ({ job }: { job: JobView }) => {
  const link = useLive((live) => live.link)
  if (job.bench === null || link === null) return null
  if (link.phase === 'lost' || link.phase === 'connecting')
    return (
      <Notice
        title={link.phase === 'lost' ? 'The link to the board is lost' : 'Reaching the board'}
        detail={link.detail}
        todo="The link comes back by itself. If it does not, look in this order: is it a data cable, fully plugged in at both ends; does the board’s light burn; is it the socket of the board and not that of another part; does another program hold the bench; does the board wait with its loader button pressed."
      />
    )
  if (link.phase === 'up' && link.board !== job.board)
    return (
      <Column>
        <Notice
          title="Another board is on this bench"
          detail={`Board ${link.board ?? ''} answers; ${job.tag} has board ${job.board}.`}
          todo="Put the right airframe on the bench, or open the job card of the one that is there. If a new board was built into this airframe, say so."
        />
        {link.board !== null && <FitBoard job={job} board={link.board} />}
      </Column>
    )
  return null
}
