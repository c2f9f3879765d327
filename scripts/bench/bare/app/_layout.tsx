import { configureStore } from '@reduxjs/toolkit'
import { TamaguiProvider, createTamagui } from '@tamagui/core'
import { Slot } from 'expo-router'
import { Provider } from 'react-redux'

const store = configureStore({ reducer: (state = {}) => state })
const config = createTamagui({
  tokens: { color: {}, space: { true: 8 }, size: { true: 8 }, radius: { true: 4 }, zIndex: { true: 1 } },
  themes: { light: { background: '#fff', color: '#000' } },
})

export default function Layout() {
  return (
    <Provider store={store}>
      <TamaguiProvider config={config} defaultTheme="light">
        <Slot />
      </TamaguiProvider>
    </Provider>
  )
}
