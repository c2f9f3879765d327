import type { ReactNode } from 'react'
import { View } from '@tamagui/core'
import { ScrollView } from 'react-native'
import { useRouter } from 'expo-router'
import { useLive } from '../store/store'
import { PlacesBar } from './Places'
import { useKeptScroll } from './useKeptScroll'
import { useKeys } from './useKeys'
import { Words } from './type'
import { WatchLine } from './WatchLine'

interface ScreenProps {
  readonly tag?: string
  readonly bench?: string | null
  readonly props?: string
  readonly route?: ReactNode
  readonly children: ReactNode
  /** The one bar at the bottom, within a thumb's reach. */
  readonly actions?: ReactNode
  /** A panel that stays beside the rest on a wide screen and is a sheet on a phone. */
  readonly drawer?: ReactNode
  readonly scrolls?: boolean
}

/** What every screen has: the watch line, what is wrong with the connection, its content and its action bar. */
export const Screen = ({
  tag,
  bench = null,
  props = 'unknown',
  route,
  children,
  actions,
  drawer,
  scrolls = true,
}: ScreenProps) => {
  const router = useRouter()
  const scroll = useKeptScroll()
  useKeys({ '?': () => router.push('/shortcuts'), g: () => router.push('/airframes'), d: () => router.push('/') })
  return (
    <View flex={1} backgroundColor="$paper" minHeight={0}>
      <WatchLine tag={tag ?? null} bench={bench} props={props} />
      {route}
      <Offline />
      <View flex={1} flexDirection="column" minHeight={0} $wide={{ flexDirection: 'row' }}>
        <View role="main" flex={1} minHeight={0} minWidth={0}>
          {scrolls ? (
            <ScrollView {...scroll} tabIndex={0} style={{ flex: 1 }} contentContainerStyle={{ padding: 16, paddingBottom: 32 }}>
              {children}
            </ScrollView>
          ) : (
            children
          )}
        </View>
        {drawer}
      </View>
      {actions !== undefined && actions !== null && actions !== false && (
        <View
          role="region"
          aria-label="What to do"
          data-print="no"
          backgroundColor="$sheet"
          borderTopWidth={1}
          borderColor="$line"
          padding="$3"
          gap="$2"
          flexDirection="row"
          justifyContent="center"
        >
          <View flex={1} maxWidth={900} flexDirection="row" gap="$2">
            {actions}
          </View>
        </View>
      )}
      {tag === undefined && <PlacesBar />}
    </View>
  )
}

const Offline = () => {
  const connected = useLive((live) => live.connected)
  if (connected) return null
  return (
    <View role="alert" data-print="no" backgroundColor="$sheet" borderBottomWidth={2} borderColor="$mark" padding="$3">
      <Words kind="strong">No connection to the server</Words>
      <Words kind="faint">Nothing is lost. It goes on by itself as soon as the server answers; what you see may be old.</Words>
    </View>
  )
}
