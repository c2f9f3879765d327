import { Link, usePathname } from 'expo-router'
import { View } from '@tamagui/core'
import { useColours } from '../look/useColours'
import { icons } from './icons'
import { Row, Words } from './type'

const places = [
  { href: '/', word: 'Today', icon: icons.today, at: /^\/$/ },
  { href: '/airframes', word: 'Airframes', icon: icons.airframes, at: /^\/(airframes|register)/ },
  { href: '/sheets', word: 'Sheets', icon: icons.sheets, at: /^\/sheets/ },
  { href: '/batch-notes', word: 'Batch notes', icon: icons.notes, at: /^\/batch-notes/ },
  { href: '/faults', word: 'Faults', icon: icons.faults, at: /^\/faults/ },
] as const
/** In the top line alone: a phone finds it under the sheets. */
const wideOnly = { href: '/transmitters', word: 'Transmitters', at: /^\/transmitters/ } as const

/** The places of the shop, in the top line of a wide screen. Where one is, is underlined. */
export const PlacesLine = () => {
  const path = usePathname()
  return (
    <View role="navigation" aria-label="The shop" display="none" $wide={{ display: 'flex', flexDirection: 'row', gap: '$5' }}>
      {[...places, wideOnly].map(({ href, word, at }) => {
        const here = at.test(path)
        return (
          <Link key={href} href={href as never} aria-current={here ? 'page' : undefined}>
            <Row
              minHeight={56}
              borderBottomWidth={3}
              borderTopWidth={3}
              borderColor="transparent"
              borderBottomColor={here ? '$tide' : 'transparent'}
            >
              <Words kind={here ? 'strong' : undefined} color={here ? '$tide' : '$ink'}>
                {word}
              </Words>
            </Row>
          </Link>
        )
      })}
    </View>
  )
}

/** The same as a bar at the bottom of a phone, each with its icon. */
export const PlacesBar = () => {
  const path = usePathname()
  const colours = useColours()
  return (
    <View
      role="navigation"
      aria-label="The shop"
      data-print="no"
      flexDirection="row"
      backgroundColor="$sheet"
      borderTopWidth={1}
      borderColor="$line"
      $wide={{ display: 'none' }}
    >
      {places.map(({ href, word, icon: Icon, at }) => {
        const here = at.test(path)
        return (
          <View key={href} flex={1} minWidth={0}>
            <Link href={href as never} aria-current={here ? 'page' : undefined}>
              <View
                width="100%"
                minHeight={58}
                alignItems="center"
                justifyContent="center"
                gap={2}
                borderTopWidth={3}
                borderColor={here ? '$tide' : 'transparent'}
              >
                <Icon size={20} color={here ? colours.tide : colours.faint} aria-hidden />
                <Words
                  kind="small"
                  fontSize={12}
                  lineHeight={16}
                  numberOfLines={1}
                  color={here ? '$tide' : '$faint'}
                  fontFamily={here ? 'WordsBold' : '$body'}
                >
                  {word}
                </Words>
              </View>
            </Link>
          </View>
        )
      })}
    </View>
  )
}
