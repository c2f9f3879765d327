import type { JobView } from '@taraf/contract'
import { checkById } from '@taraf/core'
import { symptoms, type Symptom } from '@taraf/core/faultFinder'
import { skipToken } from '@reduxjs/toolkit/query'
import { useLocalSearchParams, useRouter } from 'expo-router'
import { useMedia } from '@tamagui/core'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Screen } from '../parts/Screen'
import { Signals } from '../parts/Signals'
import { StandingMark } from '../parts/StandingMark'
import { Beside, Column, Paper, Row, Words } from '../parts/type'
import { useJobQuery } from '../store/jobs'

/** From what is seen to the causes in the order worth trying, each with the check that proves it. */
export const Faults = () => {
  const { job: id } = useLocalSearchParams<{ job?: string }>()
  const { data: job } = useJobQuery(id ?? skipToken)
  const router = useRouter()
  const { wide } = useMedia()
  const [open, setOpen] = useState<string | null>(null)
  const chosen = symptoms.find((s) => s.id === open)
  return (
    <Screen actions={id !== undefined && <Act grow label="Job card" onPress={() => router.push(`/jobs/${id}`)} />}>
      <Beside>
        <Column gap="$3" $wide={{ width: 400 }}>
          <Words kind="title">Fault finder</Words>
          <Words>Choose what you see. Causes are listed with the most likely and cheapest first.</Words>
          {id === undefined && <Words kind="small">Opened from a job card, it leads to the checks of that airframe.</Words>}
          {symptoms.map((symptom) => (
            <Column key={symptom.id}>
              <Act
                label={symptom.seen}
                selected={open === symptom.id}
                onPress={() => setOpen(open === symptom.id ? null : symptom.id)}
              />
              {!wide && open === symptom.id && (
                <Paper>
                  <Causes symptom={symptom} job={job} />
                </Paper>
              )}
            </Column>
          ))}
        </Column>
        <Column gap="$3" minWidth={0} $wide={{ flex: 1 }}>
          {wide && chosen !== undefined && (
            <Paper>
              <Words kind="heading">{chosen.seen}</Words>
              <Causes symptom={chosen} job={job} />
            </Paper>
          )}
          {wide && chosen === undefined && <Words kind="faint">The causes of what you choose are listed here.</Words>}
          {job !== undefined && <Signals sheet={job.sheet} />}
        </Column>
      </Beside>
    </Screen>
  )
}

const Causes = ({ symptom, job }: { symptom: Symptom; job: JobView | undefined }) => {
  const router = useRouter()
  return (
    <Column role="list" aria-label={symptom.seen}>
      {symptom.causes.map(({ words, act, check }, i) => {
        const found = check === undefined ? undefined : checkById(check)
        const standing = found === undefined || job === undefined ? undefined : job.standings[found.id]
        return (
          <Column key={words} role="listitem" gap="$1" borderBottomWidth={1} borderColor="$line" paddingBottom="$2">
            <Words kind="strong">
              {i + 1}. {words}
            </Words>
            <Words>{act}</Words>
            {found !== undefined && (
              <Row flexWrap="wrap" justifyContent="space-between">
                {job === undefined ? (
                  <Words kind="small">proved by "{found.title}"</Words>
                ) : (
                  <Act kind="quiet" label={found.title} onPress={() => router.push(`/jobs/${job.id}/${found.id}`)} />
                )}
                {standing !== undefined && <StandingMark state={standing.state} />}
              </Row>
            )}
          </Column>
        )
      })}
    </Column>
  )
}
