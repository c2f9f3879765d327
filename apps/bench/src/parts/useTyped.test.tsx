import { act } from 'react'
import { createRoot, type Root } from 'react-dom/client'
import { useTyped } from './useTyped'

type Found = ReturnType<typeof useTyped>
let found: Found
let given: number | undefined
const told = (now: Found) => void (found = now)
const Probe = ({ value, tell }: { value: number | undefined; tell: (now: Found) => void }) => {
  tell(useTyped(value, (next) => void (given = next)))
  return null
}
let root: Root
const show = (value: number | undefined) => act(() => root.render(<Probe value={value} tell={told} />))
beforeEach(() => {
  ;(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true
  root = createRoot(document.createElement('div'))
})
afterEach(() => act(() => root.unmount()))

test('a field that is emptied stays empty while something else is typed, whatever the form makes of it', () => {
  show(45)
  expect(found.shown).toBe('45')
  act(() => found.change(''))
  expect(given).toBeUndefined()
  // A form that falls back to what is saved, and one that has no number yet.
  for (const made of [45, NaN]) {
    show(made)
    expect(found.shown).toBe('')
  }
  act(() => found.change('4'))
  show(4)
  expect(found.shown).toBe('4')
})

test('once it is left empty it shows what the form has: the saved value, or nothing where there is none', () => {
  show(45)
  act(() => found.change(''))
  show(45)
  act(() => found.left())
  expect(found.shown).toBe('45')
  show(NaN)
  expect(found.shown).toBe('')
})

test('what is no number yet stays as it was typed, and is said; a comma is a point', () => {
  show(45)
  act(() => found.change('4x'))
  expect([found.shown, found.wrong]).toEqual(['4x', 'a number'])
  act(() => found.change('4,5'))
  show(4.5)
  expect([found.shown, found.wrong, given]).toEqual(['4,5', undefined, 4.5])
})
