import { act } from 'react'
import { createRoot, type Root } from 'react-dom/client'
import { useDraft } from './useDraft'

type Found = ReturnType<typeof useDraft<{ text: string }>>
let found: Found
const told = (now: Found) => void (found = now)
const Probe = ({ name, tell }: { name: string; tell: (now: Found) => void }) => {
  tell(useDraft(name, { text: '' }))
  return null
}
let root: Root
const show = (name: string) => act(() => root.render(<Probe name={name} tell={told} />))
beforeEach(() => {
  ;(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true
  localStorage.clear()
  root = createRoot(document.createElement('div'))
})
afterEach(() => act(() => root.unmount()))

test('what was half entered is there again after a reload, and gone once it is done', () => {
  show('list')
  expect(found[0]).toEqual({ text: '' })
  act(() => found[1]({ text: 'the antenna is bent' }))
  act(() => root.unmount())
  root = createRoot(document.createElement('div'))
  show('list')
  expect(found[0]).toEqual({ text: 'the antenna is bent' })
  act(() => found[2]())
  expect(found[0]).toEqual({ text: '' })
  expect(localStorage.length).toBe(0)
})

test('each has its own, also where one screen goes on to another', () => {
  show('a')
  act(() => found[1]({ text: 'of a' }))
  show('b')
  expect(found[0]).toEqual({ text: '' })
  show('a')
  expect(found[0]).toEqual({ text: 'of a' })
})

test('what cannot be read is begun anew', () => {
  localStorage.setItem('taraf.draft.list', '{half')
  show('list')
  expect(found[0]).toEqual({ text: '' })
})

test('what ends late changes what is there by then, and loses nothing that came meanwhile', () => {
  show('list')
  const early = found[1]
  act(() => found[1]({ text: 'the antenna' }))
  // Begun before that, as the sending of a photo is.
  act(() => early((now) => ({ text: `${now.text}, with a photo` })))
  expect(found[0]).toEqual({ text: 'the antenna, with a photo' })
})
