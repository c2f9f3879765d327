import type { ImageTell, LinkTell, TakeTell } from '@taraf/contract'
import { configureStore, createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { useSelector } from 'react-redux'
import { api } from './api'

/** What is told live at human speed; samples never come here. */
const live = createSlice({
  name: 'live',
  initialState: {
    connected: true,
    link: null as LinkTell | null,
    take: null as TakeTell | null,
    image: null as ImageTell | null,
    /** Something turned or was armed when the board was heard last: so until it is heard that nothing does. */
    danger: false,
  },
  reducers: {
    connected: (state, { payload }: PayloadAction<boolean>) => void (state.connected = payload),
    linkTold: (state, { payload }: PayloadAction<LinkTell | null>) => {
      state.link = payload
      if (payload?.phase === 'up' && payload.state !== null) state.danger = payload.state.motors !== 'still'
    },
    /** Another bench is looked at, or none. */
    benchLeft: (state) => {
      state.link = null
      state.danger = false
    },
    takeTold: (state, { payload }: PayloadAction<TakeTell | null>) => void (state.take = payload as typeof state.take),
    imageTold: (state, { payload }: PayloadAction<ImageTell | null>) => void (state.image = payload),
  },
})

export type HandsSection = 'Frame' | 'Power' | 'Radio' | 'Parts' | 'Look'
export type ThemeChoice = 'device' | 'light' | 'dark'
interface View {
  theme: ThemeChoice
  handsOpen: boolean
  handsSection: HandsSection
  /** How much is said: every reason, or what to do alone. The evidence is the same. */
  guidance: 'full' | 'bare'
}

/** How this device shows things; kept on it. */
const view = createSlice({
  name: 'view',
  initialState: (): View => ({ theme: 'device', handsOpen: false, handsSection: 'Frame', guidance: 'full', ...readKept() }),
  reducers: {
    viewChanged: (state, { payload }: PayloadAction<Partial<View>>) => ({ ...state, ...payload }),
  },
})

const keptAs = 'taraf.view'
const readKept = (): Partial<View> => {
  try {
    return JSON.parse(globalThis.localStorage?.getItem(keptAs) ?? '{}') as Partial<View>
  } catch {
    return {}
  }
}

export const makeStore = () => {
  const store = configureStore({
    reducer: { live: live.reducer, view: view.reducer, [api.reducerPath]: api.reducer },
    middleware: (defaults) => defaults().concat(api.middleware),
  })
  let kept = store.getState().view
  store.subscribe(() => {
    const now = store.getState().view
    if (now === kept) return
    kept = now
    globalThis.localStorage?.setItem(keptAs, JSON.stringify(now))
  })
  return store
}

export const { benchLeft, connected, imageTold, linkTold, takeTold } = live.actions
export const { viewChanged } = view.actions
export type Store = ReturnType<typeof makeStore>
export type State = ReturnType<Store['getState']>
export const useView = () => useSelector((state: State) => state.view)
/** A part of what is told live. Ten of these come in a second: whoever selects little is drawn again seldom. */
export const useLive = <T>(select: (live: State['live']) => T): T => useSelector((state: State) => select(state.live))
