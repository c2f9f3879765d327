import '../../src/noEval'
import { Redirect, Slot } from 'expo-router'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { Feed } from '../../src/live/feed'
import { FeedProvider } from '../../src/live/FeedProvider'
import { Loading, ProblemNotice } from '../../src/parts/Notice'
import { problemOf } from '../../src/store/api'
import { useMeQuery } from '../../src/store/people'
import type { Store } from '../../src/store/store'

export default function SignedIn() {
  const { data: me, error, isLoading, refetch } = useMeQuery()
  const store = useStore() as Store
  const [feed] = useState(() => new Feed(store))
  const problem = problemOf(error)
  if (isLoading) return <Loading what="who is signed in" />
  if (problem?.type === '/problems/sign-in-needed') return <Redirect href="/sign-in" />
  if (me === undefined) return <ProblemNotice problem={problem} act={{ label: 'Try again', onPress: () => void refetch() }} />
  return (
    <FeedProvider feed={feed}>
      <Slot />
    </FeedProvider>
  )
}
