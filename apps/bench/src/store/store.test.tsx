import type { LinkTell } from '@taraf/contract'
import { act } from 'react'
import { createRoot } from 'react-dom/client'
import { Provider } from 'react-redux'
import { linkTold, makeStore, useLive } from './store'

const drawn: string[] = []
const Probe = ({ tell }: { tell: (phase: string) => void }) => {
  tell(useLive(({ link }) => link?.phase ?? 'none'))
  return null
}
const up: LinkTell = {
  tell: 'link',
  bench: '7c8a1c1e-0000-4000-8000-000000000002',
  phase: 'up',
  detail: '',
  board: 'TB-1',
  bootedAtMs: 1,
  state: null,
  loader: false,
  powerSince: null,
  lostBlocks: 0,
}

test('who shows the phase of a link is drawn as it changes, and not at every figure that is told with it', () => {
  ;(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true
  const store = makeStore()
  const root = createRoot(document.createElement('div'))
  act(() =>
    root.render(
      <Provider store={store}>
        <Probe tell={(phase) => drawn.push(phase)} />
      </Provider>,
    ),
  )
  for (const lostBlocks of [0, 1, 2]) act(() => void store.dispatch(linkTold({ ...up, lostBlocks })))
  act(() => void store.dispatch(linkTold({ ...up, phase: 'lost' })))
  expect(drawn).toEqual(['none', 'up', 'lost'])
  act(() => root.unmount())
})
