import type { AirframeQuery, AirframeRow } from '@taraf/contract'
import { useCallback, useEffect, useState } from 'react'
import { useDispatch, useSelector } from 'react-redux'
import { airframesApi } from '../store/airframes'
import type { State, Store } from '../store/store'

const pageRows = 100

type Filter = Pick<AirframeQuery, 'search' | 'standing' | 'sort' | 'down'>

/** The pages, by number, that hold rows from `first` to `last`. */
export const pagesOf = (first: number, last: number): number[] => {
  const from = Math.floor(first / pageRows)
  return Array.from({ length: Math.floor(last / pageRows) - from + 1 }, (_, i) => from + i)
}

/**
 * A window on a list too long to read whole: pages of a hundred rows are read as they are seen.
 * `rowAt` is null for a row that has not arrived.
 */
export const useAirframeWindow = (filter: Filter) => {
  const { search, standing, sort, down } = filter
  const settled = useSettled(search, 200)
  const dispatch = useDispatch<Store['dispatch']>()
  const [range, setRange] = useState({ first: 0, last: 0 })
  const argsOf = useCallback(
    (page: number) => ({ search: settled, standing, sort, down, offset: page * pageRows, limit: pageRows }),
    [settled, standing, sort, down],
  )
  useEffect(() => {
    // The first page is always read: it alone tells the total of any filter.
    const reads = [...new Set([0, ...pagesOf(range.first, range.last)])].map((page) =>
      dispatch(airframesApi.endpoints.airframes.initiate(argsOf(page))),
    )
    return () => reads.forEach((read) => read.unsubscribe())
  }, [argsOf, dispatch, range.first, range.last])

  const cached = useSelector((state: State) => state[airframesApi.reducerPath])
  const pageAt = useCallback(
    (page: number) => airframesApi.endpoints.airframes.select(argsOf(page))({ [airframesApi.reducerPath]: cached }),
    [argsOf, cached],
  )
  const start = pageAt(0)
  return {
    total: start.data?.total ?? null,
    error: start.error ?? null,
    rowAt: useCallback(
      (index: number): AirframeRow | null => pageAt(Math.floor(index / pageRows)).data?.rows[index % pageRows] ?? null,
      [pageAt],
    ),
    see: useCallback(
      (from: number, to: number) => setRange((now) => (now.first === from && now.last === to ? now : { first: from, last: to })),
      [],
    ),
    refetch: () => void dispatch(airframesApi.endpoints.airframes.initiate(argsOf(0), { forceRefetch: true })),
  }
}

/** A value once it has stood still for a while. */
const useSettled = <T>(value: T, ms: number): T => {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms)
    return () => clearTimeout(timer)
  }, [value, ms])
  return settled
}
