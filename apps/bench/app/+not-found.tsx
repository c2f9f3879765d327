import { useRouter } from 'expo-router'
import { View } from '@tamagui/core'
import { Notice } from '../src/parts/Notice'

export default function NotFound() {
  const router = useRouter()
  return (
    <View flex={1} padding="$4" backgroundColor="$paper">
      <Notice
        title="There is no such page"
        todo="Go to the airframes and choose from there."
        act={{ label: 'Airframes', onPress: () => router.replace('/') }}
      />
    </View>
  )
}
