import type { AirframeQuery, AirframeRow } from '@taraf/contract'
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react'
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
  // The first page is always read: it alone tells the total of any filter.
  const [pages, setPages] = useState<readonly number[]>([0])
  const argsOf = useCallback(
    (page: number) => ({ search: settled, standing, sort, down, offset: page * pageRows, limit: pageRows }),
    [settled, standing, sort, down],
  )
  useEffect(() => {
    const reads = pages.map((page) => dispatch(airframesApi.endpoints.airframes.initiate(argsOf(page))))
    return () => reads.forEach((read) => read.unsubscribe())
  }, [argsOf, dispatch, pages])

  const selectors = useMemo(
    () => new Map(pages.map((page) => [page, airframesApi.endpoints.airframes.select(argsOf(page))])),
    [argsOf, pages],
  )
  const start = useSelector((state: State) => selectors.get(0)?.(state))
  const rows = useSelector((state: State) => [...selectors].map(([page, read]) => [page, read(state).data?.rows] as const), alike)
  const byPage = useDeferredValue(useMemo(() => new Map(rows), [rows]))
  return {
    total: start?.data?.total ?? null,
    error: start?.error ?? null,
    rowAt: useCallback(
      (index: number): AirframeRow | null => byPage.get(Math.floor(index / pageRows))?.[index % pageRows] ?? null,
      [byPage],
    ),
    see: useCallback((first: number, last: number) => {
      const seen = [...new Set([0, ...pagesOf(first, last)])]
      setPages((now) => (now.join() === seen.join() ? now : seen))
    }, []),
    refetch: () => void dispatch(airframesApi.endpoints.airframes.initiate(argsOf(0), { forceRefetch: true })),
  }
}

type PageRows = readonly (readonly [number, readonly AirframeRow[] | undefined])[]
const alike = (a: PageRows, b: PageRows): boolean =>
  a.length === b.length && a.every(([page, rows], i) => page === b[i]?.[0] && rows === b[i][1])

/** A value once it has stood still for a while. */
const useSettled = <T>(value: T, ms: number): T => {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms)
    return () => clearTimeout(timer)
  }, [value, ms])
  return settled
}
