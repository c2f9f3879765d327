import { useRouter } from 'expo-router'
import { Act } from '../parts/Act'
import { Screen } from '../parts/Screen'
import { shortcuts } from '../parts/shortcuts'
import { Column, Reading, Row, Words } from '../parts/type'
import { useKeys } from '../parts/useKeys'

export const Shortcuts = () => {
  const router = useRouter()
  const back = () => (router.canGoBack() ? router.back() : router.replace('/'))
  useKeys({ Escape: back })
  return (
    <Screen actions={<Act grow kind="main" label="Back" onPress={back} />}>
      <Column maxWidth={600}>
        <Words kind="title">Keys</Words>
        {shortcuts.map(({ key, where, does }) => (
          <Row key={key} minHeight={40}>
            <Reading width={90}>{key}</Reading>
            <Words flex={1}>{does}</Words>
            <Words kind="small">{where}</Words>
          </Row>
        ))}
      </Column>
    </Screen>
  )
}
