import { usePathname } from 'expo-router'
import { useCallback, useRef } from 'react'
import type { NativeScrollEvent, NativeSyntheticEvent, ScrollView } from 'react-native'

/** How far down each page was left, px, since the application was opened. */
const left = new Map<string, number>()

/** A page that is left and found again is where it was left. */
export const useKeptScroll = () => {
  const path = usePathname()
  const view = useRef<ScrollView>(null)
  const restored = useRef<string | null>(null)
  return {
    ref: view,
    scrollEventThrottle: 100,
    onScroll: useCallback(
      ({ nativeEvent }: NativeSyntheticEvent<NativeScrollEvent>) => {
        if (restored.current === path) left.set(path, nativeEvent.contentOffset.y)
      },
      [path],
    ),
    onContentSizeChange: useCallback(
      (_width: number, height: number) => {
        if (restored.current === path) return
        const y = left.get(path) ?? 0
        // What has not arrived yet cannot be scrolled to.
        if (height <= y) return
        restored.current = path
        if (y > 0) view.current?.scrollTo({ y, animated: false })
      },
      [path],
    ),
  }
}
