import { createContext, useContext, useEffect, type ReactNode } from 'react'
import type { Feed } from './feed'

const FeedContext = createContext<Feed | null>(null)

/** Keeps the live feed open while somebody is signed in. */
export const FeedProvider = ({ feed, children }: { feed: Feed; children: ReactNode }) => {
  useEffect(() => {
    feed.start()
    return () => feed.stop()
  }, [feed])
  return <FeedContext value={feed}>{children}</FeedContext>
}

export const useFeed = (): Feed => {
  const feed = useContext(FeedContext)
  if (feed === null) throw new Error('no feed above')
  return feed
}

/** Watches a job card and its bench while the caller is on the screen. */
export const useWatch = (job: string | null, bench: string | null): void => {
  const feed = useFeed()
  useEffect(() => {
    feed.watch({ job, bench })
    return () => feed.watch({ job: null, bench: null })
  }, [feed, job, bench])
}
