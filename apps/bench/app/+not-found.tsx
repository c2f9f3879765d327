import { useRouter } from 'expo-router'
import { Act } from '../src/parts/Act'
import { Column, Words } from '../src/parts/type'

export default function NotFound() {
  const router = useRouter()
  return (
    <Column role="main" flex={1} padding="$4" gap="$3" backgroundColor="$paper" alignItems="flex-start">
      <Words kind="title">There is no such page</Words>
      <Words>Go to the airframes and choose from there.</Words>
      <Act label="Airframes" onPress={() => router.replace('/airframes')} />
    </Column>
  )
}
