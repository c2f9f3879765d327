import type { TodayView } from '@taraf/contract'
import { checkById } from '@taraf/core'
import { Link, useRouter } from 'expo-router'
import { View } from '@tamagui/core'
import type { ReactNode } from 'react'
import { Act } from '../parts/Act'
import { timeWords } from '../parts/dates'
import { entryWords } from '../parts/entryWords'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { Screen } from '../parts/Screen'
import { overallWord, OverallShape } from '../parts/StandingMark'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useTodayQuery } from '../store/jobs'
import { useMeQuery } from '../store/people'

const titleOf = (check: string | null): string | null => (check === null ? null : (checkById(check)?.title ?? check))
const pathOf = (job: string, check: string | null): string => `/jobs/${job}${check === null ? '' : `/${check}`}`

/** The first page: what is on the benches, and what waits for whoever looks. */
export const Today = () => {
  const { data: me } = useMeQuery()
  // A feed that was away for a moment may have missed what turned on a bench: it is looked at again in between.
  const { data, error, refetch } = useTodayQuery(undefined, { pollingInterval: 20_000 })
  return (
    <Screen>
      <Column gap="$4">
        <Row justifyContent="space-between" flexWrap="wrap">
          <Words kind="title">Today</Words>
          {me !== undefined && (
            <Words kind="small">
              {me.name}, {me.role}
            </Words>
          )}
        </Row>
        <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
        {data === undefined && error === undefined && <Loading what="what is on the benches" />}
        {data !== undefined && me !== undefined && (
          <Sections today={data} me={me.id} isReader={me.role === 'reader'} isLead={me.role === 'lead'} />
        )}
      </Column>
    </Screen>
  )
}

const Sections = ({ today, me, isReader, isLead }: { today: TodayView; me: string; isReader: boolean; isLead: boolean }) => {
  const router = useRouter()
  const { benches, cards, toSign, stale, notes } = today
  const onBench = new Set(benches.map((one) => one.job))
  const others = cards.filter((card) => !onBench.has(card.job))
  return (
    <View flexDirection="column" gap="$4" $wide={{ flexDirection: 'row', alignItems: 'flex-start', gap: '$6' }}>
      <Column gap="$4" $wide={{ flex: 1 }}>
        <Section title="On the benches">
          {benches.length === 0 && (
            <Notice
              title="Nothing is on a bench"
              todo="Choose an airframe, open its job card and link a bench."
              act={{ label: 'Airframes', onPress: () => router.push('/airframes') }}
            />
          )}
          {benches.map((one) => (
            <OnBench key={one.bench} one={one} isMine={one.by.id === me} />
          ))}
        </Section>
        <Section title={isReader || isLead ? 'Open job cards' : 'My open job cards'}>
          {others.length === 0 && <Words kind="faint">None besides those on the benches.</Words>}
          {others.length > 0 && (
            <Paper padding="$0" gap="$0">
              {others.map(({ job, tag, overall, next, parked }, i) => (
                <Line key={job} href={pathOf(job, parked === null ? next : null)} first={i === 0}>
                  <Reading fontFamily="ReadingsBold">{tag}</Reading>
                  <Row flexShrink={1} justifyContent="flex-end" gap="$1">
                    {parked === null && <OverallShape overall={overall} />}
                    <Words numberOfLines={1} flexShrink={1} color={parked === null ? '$ink' : '$faint'}>
                      {parked !== null
                        ? `parked: ${parked}`
                        : next === null
                          ? overallWord(overall)
                          : `next: ${titleOf(next) ?? ''}`}
                    </Words>
                  </Row>
                </Line>
              ))}
            </Paper>
          )}
        </Section>
      </Column>
      <Column gap="$4" $wide={{ flex: 1 }}>
        {toSign.length > 0 && (
          <Section title="To sign">
            <Paper padding="$0" gap="$0">
              {toSign.map(({ job, tag, as, after }, i) => (
                <Line key={job} href={`/jobs/${job}/handover`} first={i === 0}>
                  <Reading fontFamily="ReadingsBold">{tag}</Reading>
                  <Words color="$tide">{after === null ? `sign as ${as}` : `sign as ${as}, after ${after}`}</Words>
                </Line>
              ))}
            </Paper>
          </Section>
        )}
        <Section title="Went stale">
          {stale.length === 0 && <Words kind="faint">Nothing.</Words>}
          {stale.length > 0 && (
            <Paper padding="$0" gap="$0">
              {stale.map(({ job, tag, checks, by }, i) => (
                <Line key={job} href={`/jobs/${job}`} first={i === 0}>
                  <Reading fontFamily="ReadingsBold">{tag}</Reading>
                  <Row flexShrink={1} justifyContent="flex-end" gap="$1">
                    <OverallShape overall="stale" />
                    <Words numberOfLines={2} flexShrink={1}>
                      {checks === 1 ? '1 check' : `${checks} checks`}
                      {by !== null && `: ${entryWords(by)} ${timeWords(by.at)}`}
                    </Words>
                  </Row>
                </Line>
              ))}
            </Paper>
          )}
        </Section>
        {notes.length > 0 && (
          <Section title="Batch notes on open job cards">
            {notes.map(({ id, words, cards: concerned }) => (
              <Paper key={id}>
                <Words>{words}</Words>
                <Row flexWrap="wrap">
                  {concerned.map(({ job, tag }) => (
                    <Act
                      key={job}
                      kind="quiet"
                      label={tag}
                      named={`Job card of ${tag}`}
                      onPress={() => router.push(`/jobs/${job}`)}
                    />
                  ))}
                </Row>
              </Paper>
            ))}
          </Section>
        )}
      </Column>
    </View>
  )
}

const Section = ({ title, children }: { title: string; children: ReactNode }) => (
  <Column role="region" aria-label={title}>
    <Words kind="heading" color="$faint">
      {title}
    </Words>
    {children}
  </Column>
)

const OnBench = ({ one, isMine }: { one: TodayView['benches'][number]; isMine: boolean }) => {
  const router = useRouter()
  const { job, tag, name, by, next, motors } = one
  const danger = motors === 'turning' || motors === 'armed'
  return (
    <Paper borderColor={danger ? '$buoy' : '$line'} borderWidth={danger ? 2 : 1}>
      <Row justifyContent="space-between" flexWrap="wrap">
        <Reading size="large">{tag}</Reading>
        <Words kind="small">
          {name}, {isMine ? 'you' : by.name}
        </Words>
      </Row>
      <Row justifyContent="space-between" flexWrap="wrap">
        <Words flexShrink={1} {...(danger ? { color: '$buoy', fontFamily: 'WordsBold' } : {})}>
          {danger ? `motors ${motors}` : next === null ? 'every check stands' : `next: ${titleOf(next) ?? ''}`}
        </Words>
        <Act
          label={isMine ? 'Go on' : 'Look'}
          named={`${isMine ? 'Go on with' : 'Look at'} ${tag}`}
          onPress={() => router.push(pathOf(job, isMine ? next : null) as never)}
        />
      </Row>
    </Paper>
  )
}

/** One row that leads to a card. */
const Line = ({ href, first, children }: { href: string; first: boolean; children: ReactNode }) => (
  <Link href={href as never}>
    <View
      width="100%"
      minHeight={52}
      paddingHorizontal="$4"
      paddingVertical="$2"
      flexDirection="row"
      alignItems="center"
      justifyContent="space-between"
      gap="$3"
      borderTopWidth={first ? 0 : 1}
      borderColor="$line"
      hoverStyle={{ backgroundColor: '$paper' }}
    >
      {children}
    </View>
  </Link>
)
