import type { LinkPhase, TakeTell } from '@taraf/contract'
import { armedUnder } from '@taraf/core'
import { Link, useRouter } from 'expo-router'
import { View } from '@tamagui/core'
import { useLive, useView, viewChanged, type ThemeChoice } from '../store/store'
import { api } from '../store/api'
import { useMeQuery, useSignOutMutation } from '../store/people'
import { useDispatch } from 'react-redux'
import { Act } from './Act'
import { HeatClock } from './HeatClock'
import { useColours } from '../look/useColours'
import { icons } from './icons'
import { PlacesLine } from './Places'
import { StopAll } from './StopAll'
import { Reading, Row, Words } from './type'

const nextTheme: Record<ThemeChoice, ThemeChoice> = { device: 'light', light: 'dark', dark: 'device' }

interface WatchLineProps {
  readonly tag: string | null
  readonly bench: string | null
  /** What is known of the props for the battery connection that is there. */
  readonly props: string
}

const isUnheard = (take: TakeTell | null, phase: LinkPhase | undefined): boolean =>
  take !== null &&
  (take.phase === 'capturing' || take.phase === 'waiting') &&
  take.want !== null &&
  armedUnder(take.want) !== null &&
  phase !== 'up'

/** Always on top: whose state this is, and everything that could hurt. It turns to the one warm colour while anything can. */
export const WatchLine = ({ tag, bench, props }: WatchLineProps) => {
  const { link, take, danger: isTold } = useLive((live) => live)
  // What may be armed while nobody hears it is as dangerous as what is.
  const danger = isTold || isUnheard(take, link?.phase)
  const state = link?.phase === 'up' ? link.state : null
  const ink = danger ? '$onBuoy' : '$ink'
  return (
    <View
      role="banner"
      data-print="no"
      backgroundColor={danger ? '$buoy' : '$sheet'}
      borderBottomWidth={1}
      borderColor="$mark"
      paddingHorizontal="$4"
      paddingVertical={tag === null ? 0 : '$2'}
      flexDirection="row"
      flexWrap="wrap"
      alignItems="center"
      columnGap="$5"
      rowGap="$1"
    >
      <View
        flexDirection="row"
        alignItems="center"
        gap="$3"
        {...(tag === null ? {} : { flexBasis: '100%', $wide: { flexBasis: 'auto' } })}
      >
        {tag === null ? (
          <Words kind="heading">Taraf</Words>
        ) : (
          <Reading size="large" color={ink} flex={1} $wide={{ flex: 0 }}>
            {tag}
          </Reading>
        )}
        {tag !== null && <Home ink={ink} />}
        {tag !== null && bench !== null && <StopAll bench={bench} danger={danger} />}
      </View>
      {tag !== null && (
        <>
          <Item
            label="link"
            value={link === null ? (bench === null ? 'none' : '…') : phaseWord[link.phase]}
            ink={ink}
            alert={link?.phase === 'lost'}
          />
          <Item label="props" value={props} ink={ink} />
          <Item label="power" value={state?.power ?? 'unknown'} ink={ink} />
          {state !== null && state.power !== 'cable' && link?.powerSince != null && (
            <HeatClock since={link.powerSince} ink={ink} />
          )}
          <Item label="motors" value={state?.motors ?? (danger ? 'not known to be still' : 'unknown')} ink={ink} />
          <Item label="radio" value={state?.radio ?? 'unknown'} ink={ink} />
        </>
      )}
      {tag === null && <PlacesLine />}
      {tag === null && <Account />}
    </View>
  )
}

/** The way out of a card to the shop: the card is found again there. */
const Home = ({ ink }: { ink: '$ink' | '$onBuoy' }) => {
  const colours = useColours()
  return (
    <Link href="/" aria-label="Today">
      <Row minHeight={48} paddingHorizontal="$2" gap="$1">
        <icons.today size={18} color={ink === '$ink' ? colours.tide : colours.onBuoy} aria-hidden />
        <Words kind="strong" color={ink === '$ink' ? '$tide' : ink}>
          Today
        </Words>
      </Row>
    </Link>
  )
}

const phaseWord = { none: 'none', connecting: 'reaching', up: 'up', lost: 'LOST' } as const

const Item = ({
  label,
  value,
  ink,
  alert = false,
}: {
  label: string
  value: string
  ink: '$ink' | '$onBuoy'
  alert?: boolean
}) => (
  <Row gap="$1">
    <Words kind="small" color={ink === '$ink' ? '$faint' : ink}>
      {label}
    </Words>
    <Reading
      size="small"
      color={alert && ink !== '$onBuoy' ? '$fail' : ink}
      fontFamily={alert ? 'ReadingsBold' : '$readings'}
      data-watch={label}
    >
      {value}
    </Reading>
  </Row>
)

const Account = () => {
  const { data: me } = useMeQuery()
  const { theme } = useView()
  const dispatch = useDispatch()
  const router = useRouter()
  const [signOut] = useSignOutMutation()
  const leave = async () => {
    await signOut()
    dispatch(api.util.resetApiState())
    router.replace('/sign-in')
  }
  return (
    <Row flex={1} justifyContent="flex-end" gap="$1">
      <Act kind="quiet" label={`Light: ${theme}`} onPress={() => dispatch(viewChanged({ theme: nextTheme[theme] }))} />
      {me !== undefined && <Act kind="quiet" label={`Sign out ${me.login}`} onPress={() => void leave()} />}
    </Row>
  )
}
