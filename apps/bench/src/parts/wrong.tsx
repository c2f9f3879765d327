import { createContext, useContext, useMemo, type ReactNode } from 'react'

interface Wrong {
  /** Where we are: a place as in `geometry.booms[2]`. */
  readonly at: string
  /** What is wrong, by its place. */
  readonly found: ReadonlyMap<string, string>
}
const WrongHere = createContext<Wrong>({ at: '', found: new Map() })

const join = (at: string, place: string) => (at === '' || place.startsWith('[') ? `${at}${place}` : `${at}.${place}`)

/** A document as it is entered: what is wrong in it is said at the field of its place. */
export const WrongFields = ({ found, children }: { found: Wrong['found']; children: ReactNode }) => (
  <WrongHere value={useMemo(() => ({ at: '', found }), [found])}>{children}</WrongHere>
)

/** A part of the document: places within it are told from here on. */
export const Within = ({ place, children }: { place: string; children: ReactNode }) => {
  const { at, found } = useContext(WrongHere)
  return <WrongHere value={useMemo(() => ({ at: join(at, place), found }), [at, place, found])}>{children}</WrongHere>
}

/** What is wrong at a place, or undefined. */
export const useWrong = (place: string | undefined): string | undefined => {
  const { at, found } = useContext(WrongHere)
  return place === undefined ? undefined : found.get(join(at, place))
}
