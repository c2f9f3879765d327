import { useEffect, useRef } from 'react'
import { View } from '@tamagui/core'
import { useStopAllMutation } from '../store/benches'
import { Words } from './type'

/** Ends whatever turns or is armed on the bench, in one tap; by the space bar too while anything does. */
export const StopAll = ({ bench, danger }: { bench: string; danger: boolean }) => {
  const [stop, { isError }] = useStopAllMutation()
  const now = useRef({ bench, danger, stop })
  useEffect(() => {
    now.current = { bench, danger, stop }
  })
  useEffect(() => {
    // Before anything that has the focus can take the key for itself.
    const listen = (event: KeyboardEvent) => {
      if (event.key !== ' ' || !now.current.danger) return
      event.preventDefault()
      event.stopPropagation()
      void now.current.stop(now.current.bench)
    }
    window.addEventListener('keydown', listen, true)
    return () => window.removeEventListener('keydown', listen, true)
  }, [])
  return (
    <View
      role="button"
      aria-label="Stop all"
      aria-keyshortcuts="Space"
      tabIndex={0}
      minHeight={48}
      paddingHorizontal="$4"
      justifyContent="center"
      borderRadius="$2"
      borderWidth={2}
      borderColor={danger ? '$onBuoy' : '$mark'}
      marginLeft="auto"
      cursor="pointer"
      focusVisibleStyle={{ outlineWidth: 3, outlineStyle: 'solid', outlineColor: '$tide', outlineOffset: 2 }}
      onPress={() => void stop(bench)}
      onKeyDown={(event: { key: string }) => event.key === 'Enter' && void stop(bench)}
    >
      <Words kind="strong" color={danger ? '$onBuoy' : '$ink'}>
        {isError ? 'Stop all: not reached, pull the battery' : 'Stop all'}
      </Words>
    </View>
  )
}
