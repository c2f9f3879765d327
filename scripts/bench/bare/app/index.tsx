import { View } from '@tamagui/core'
import { TextInput } from 'react-native'

export default function Page() {
  return (
    <View padding={16}>
      <TextInput aria-label="Name" />
    </View>
  )
}
