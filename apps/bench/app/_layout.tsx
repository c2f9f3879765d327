import { AtkinsonHyperlegibleNext_400Regular } from '@expo-google-fonts/atkinson-hyperlegible-next/400Regular'
import { AtkinsonHyperlegibleNext_700Bold } from '@expo-google-fonts/atkinson-hyperlegible-next/700Bold'
import { TamaguiProvider, Theme } from '@tamagui/core'
import { FontDisplay, useFonts } from 'expo-font'
import { Slot } from 'expo-router'
import { useState } from 'react'
import { useColorScheme } from 'react-native'
import { Provider } from 'react-redux'
import { config } from '../src/look/tamagui.config'
import { usePrinting } from '../src/look/usePrinting'
import { makeStore, useView } from '../src/store/store'

const font = (uri: number) => ({ uri, display: FontDisplay.SWAP })

export default function Layout() {
  const [store] = useState(makeStore)
  // Words are shown at once in whatever is there, and change when the shipped fonts arrive.
  useFonts({
    Words: font(AtkinsonHyperlegibleNext_400Regular),
    WordsBold: font(AtkinsonHyperlegibleNext_700Bold),
    // The same face with its tabular figures: they do not jump, and point and hyphen stay narrow.
    Readings: font(AtkinsonHyperlegibleNext_400Regular),
    ReadingsBold: font(AtkinsonHyperlegibleNext_700Bold),
  } as never)
  return (
    <Provider store={store}>
      <Themed />
    </Provider>
  )
}

const Themed = () => {
  const device = useColorScheme()
  const { theme } = useView()
  const printing = usePrinting()
  const chosen = theme === 'device' ? (device === 'dark' ? 'dark' : 'light') : theme
  const name = printing ? 'light' : chosen
  return (
    <TamaguiProvider config={config} defaultTheme="light" disableInjectCSS={false}>
      <Theme name={name}>
        <Slot />
      </Theme>
    </TamaguiProvider>
  )
}
