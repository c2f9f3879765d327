import type { HandAct } from '@taraf/contract'
import { useCallback, useRef } from 'react'
import { problemOf } from '../store/api'
import { useActHandsMutation } from '../store/benches'
import { useMeQuery } from '../store/people'

/** Acts of the simulated hands on one bench. A drag sends its newest place only, and waits for the one before to be done. */
export const useHands = (bench: string) => {
  const { data: me } = useMeQuery()
  const [send, { error }] = useActHandsMutation()
  const running = useRef(false)
  const waiting = useRef<HandAct | null>(null)
  const act = useCallback((what: HandAct) => void send({ bench, act: what }), [bench, send])
  const drag = useCallback(
    (what: HandAct) => {
      waiting.current = what
      const next = async (): Promise<void> => {
        const now = waiting.current
        if (now === null || running.current) return
        waiting.current = null
        running.current = true
        await send({ bench, act: now })
        running.current = false
        return next()
      }
      void next()
    },
    [bench, send],
  )
  return { act, drag, off: me?.role === 'reader', problem: problemOf(error) }
}

export type HandsActs = Pick<ReturnType<typeof useHands>, 'act' | 'drag' | 'off'>
